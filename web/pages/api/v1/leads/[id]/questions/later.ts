import { askLater } from "../../../../../../../core/desk/stage.ts";
import { answer, serve } from "../../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/questions/later", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => askLater(world, me.id, body.question))),
);
