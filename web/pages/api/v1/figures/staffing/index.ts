import { serve } from "../../../../../api/endpoint.ts";
import { figures } from "../../../../../api/figures.ts";
import { StaffingQuery } from "../../../../../wire/figure-schemas.ts";

export const GET = serve("GET /figures/staffing", (call) =>
  figures(call, StaffingQuery, async ({ goal, minutes, seconds = null, day, more }, span) => {
    const hours = Array.from({ length: 24 }, (_, i) => i);
    const others =
      day === undefined || more === 0 ? [] : hours.map((h) => ({ hour: day * 24 + h, people: more }));
    const answer = await call.desk.figures.ask("staffing", {
      ...span,
      goal: goal / 100,
      minutes,
      seconds,
      more: others,
    });
    return { ...answer, goal };
  }),
);
