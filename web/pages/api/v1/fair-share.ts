import { problem, serve } from "../../../api/endpoint.ts";
import { toFairShare } from "../../../wire/shape-routing.ts";

const DAY = 86_400_000;
/** The longest span in days: ten years. */
const LONGEST = 3_660;

/** How hand-offs really fell out over a span, or the last so many days; thirty when nothing is said. */
export const GET = serve("GET /fair-share", ({ desk, query }) => {
  const now = desk.clock.now();
  const from = query.has("from")
    ? Date.parse(query.get("from")!)
    : now - Math.min(LONGEST, Number(query.get("days") ?? 30)) * DAY;
  const to = query.has("to") ? Date.parse(query.get("to")!) : now;
  if (!(from < to && from >= 0 && to < now + LONGEST * DAY))
    return problem(
      "the-wrong-way-round",
      422,
      "The wrong way round",
      "Give `from` and `to` as times, `from` first.",
    );
  return toFairShare(desk, from, to);
});
