import { doTask } from "../../../../../../core/desk/cadence.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/tasks", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => doTask(world, me.id, body.taskId))),
);
