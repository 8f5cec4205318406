import { endOfDay } from "../../../../core/time/defer.ts";
import { cursorOf, limitOf, serve } from "../../../api/endpoint.ts";
import { toParked } from "../../../wire/shape-bells.ts";

export const GET = serve("GET /parked", ({ desk, query }) => {
  const by = query.get("by");
  return toParked(desk, limitOf(query), cursorOf(query), {
    text: query.get("text") ?? "",
    reason: query.get("reason") ?? "",
    dueBefore: query.get("due") === "true" ? endOfDay(desk.clock.now(), desk.setup.policies.desk.zone) : null,
    by: by === "lately" || by === "longest" ? by : "look",
  });
});
