import { setNextStep } from "../../../../../../core/desk/work.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Step } from "../../../../../wire/schemas.ts";

export const POST = endpoint(Step, ({ desk, me, params, body }) =>
  answer(
    desk.act(params.id ?? "", (world) =>
      setNextStep(world, me.id, { ...body, dueAt: Date.parse(body.dueAt) }),
    ),
  ),
);
