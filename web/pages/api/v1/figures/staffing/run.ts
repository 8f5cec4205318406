import { refusal, serve } from "../../../../../api/endpoint.ts";
import { caughtUp, orNotNow, spanOf, toNeeded } from "../../../../../api/figures.ts";

export const GET = serve("GET /figures/staffing/run", ({ desk }) => toNeeded(desk.needed.last));

export const POST = serve("POST /figures/staffing/run", ({ desk, body }) => {
  const span = spanOf(desk, body);
  if (!span.ok) return refusal(span.problem);
  const { from, to } = span.value;
  const { goal, minutes, seconds = null } = body;
  const asked = { from, to: Math.min(to, desk.clock.now()), goal: goal / 100, minutes, seconds };
  return orNotNow(async () => {
    await caughtUp(desk, span.value);
    const begun = desk.needed.start(asked);
    return begun.ok ? toNeeded(begun.run) : refusal(begun.problem);
  });
});
