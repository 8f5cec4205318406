import { reopen } from "../../../../../../core/desk/stage.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/reopen", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => reopen(world, me.id, body.reason))),
);
