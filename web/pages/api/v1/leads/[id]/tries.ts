import { logTry } from "../../../../../../core/desk/work.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/tries", ({ desk, params, body, context }) => {
  const { nextStep, callId, knows, ...report } = body;
  const id = params.id ?? "";
  const step = nextStep && { ...nextStep, dueAt: Date.parse(nextStep.dueAt) };
  const result = desk.act(id, (world) =>
    logTry(world, {
      ...report,
      meanwhile:
        (world.lead?.tries ?? 0) > (knows ?? Number.POSITIVE_INFINITY) ? desk.reader.lastTry(id) : null,
      ...(nextStep !== undefined && { nextStep: step ?? null }),
    }),
  );
  const { dialer } = context.locals;
  if (result.ok && callId && dialer.personOf(callId) === body.personId) dialer.putAside(callId);
  return answer(result, 201);
});
