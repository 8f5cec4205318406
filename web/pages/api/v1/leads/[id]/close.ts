import { close } from "../../../../../../core/desk/stage.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/close", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => close(world, me.id, body.reason))),
);
