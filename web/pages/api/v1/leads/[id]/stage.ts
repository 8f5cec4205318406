import { moveStage } from "../../../../../../core/desk/stage.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/stage", ({ desk, me, rights, params, body }) =>
  answer(
    desk.act(params.id ?? "", (world) =>
      moveStage(world, me.id, { ...body, mover: rights.has("leads.move") }),
    ),
  ),
);
