import { bought } from "../../../../../../core/desk/cadence.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/bought", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => bought(world, me.id, body.what))),
);
