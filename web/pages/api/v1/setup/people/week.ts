import { problem, serve } from "../../../../../api/endpoint.ts";
import { toWeek } from "../../../../../wire/shape-routing.ts";

export const GET = serve("GET /setup/people/week", ({ desk, query }) => {
  const said = query.get("from");
  const at = said ? Date.parse(said) : desk.clock.now();
  if (Number.isNaN(at))
    return problem("not-a-time", 422, "Not a time", "from: give a time such as 2026-03-02T00:00:00Z.");
  return toWeek(desk, at);
});
