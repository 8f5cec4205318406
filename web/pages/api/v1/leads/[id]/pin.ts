import { pin } from "../../../../../../core/desk/work.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/pin", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => pin(world, me.id, body.text))),
);
