import { setNextStep } from "../../../../../../core/desk/work.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/next-step", ({ desk, me, params, body }) =>
  answer(
    desk.act(params.id ?? "", (world) =>
      setNextStep(world, me.id, { ...body, dueAt: Date.parse(body.dueAt) }),
    ),
  ),
);
