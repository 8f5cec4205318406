import { pass } from "../../../../../../core/desk/hand-off.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/pass", ({ desk, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => pass(world, body.personId, body.reason))),
);
