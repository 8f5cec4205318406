import { markStop } from "../../../../../../core/desk/work.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/stops", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => markStop(world, me.id, body.channel, body.stop, body.said))),
);
