import { afterOutcome } from "../../../../core/desk/try.ts";
import { serve } from "../../../api/endpoint.ts";
import { iso } from "../../../wire/shape.ts";

/** What a try can have come to, with what each would set next for this lead if logged now. */
export const GET = serve("GET /outcomes", ({ desk, query }) => {
  const world = desk.look(query.get("lead"));
  return {
    items: desk.setup.policies.outcomes.map((outcome) => {
      const after = afterOutcome(outcome, world, null);
      return {
        key: outcome.key,
        name: outcome.name,
        reached: outcome.reached,
        next: after.does === "step" ? { note: after.step.note, dueAt: iso(after.step.dueAt) } : null,
        otherwise:
          after.does === "list"
            ? `To the manager’s list: ${after.reason}`
            : after.does === "close"
              ? `Closed: ${after.reason}`
              : after.does === "park"
                ? `Parked: ${after.reason}`
                : null,
      };
    }),
    next: null,
  };
});
