import { unschedule } from "../../../../../../core/desk/send.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/unschedule", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => unschedule(world, me.id, body.id))),
);
