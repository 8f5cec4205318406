import { logTry } from "../../../../../../core/desk/work.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Try } from "../../../../../wire/schemas.ts";

export const POST = endpoint(Try, ({ desk, params, body, context }) => {
  const { nextStep, callId, ...report } = body;
  const step = nextStep && { ...nextStep, dueAt: Date.parse(nextStep.dueAt) };
  const result = desk.act(params.id ?? "", (world) =>
    logTry(world, { ...report, ...(nextStep !== undefined && { nextStep: step ?? null }) }),
  );
  const { dialer } = context.locals;
  if (result.ok && callId && dialer.personOf(callId) === body.personId) dialer.putAside(callId);
  return answer(result, 201);
});
