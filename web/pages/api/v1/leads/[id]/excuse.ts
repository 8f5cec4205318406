import { excuse } from "../../../../../../core/desk/bells.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/excuse", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => excuse(world, me.id, body.reason))),
);
