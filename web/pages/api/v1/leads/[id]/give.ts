import { give } from "../../../../../../core/desk/hand-off.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/give", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => give(world, me.id, body.to, body.reason, body.steps))),
);
