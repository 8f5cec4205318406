import { afterOutcome, afterTry } from "../../../../core/desk/try.ts";
import { serve } from "../../../api/endpoint.ts";
import { iso } from "../../../wire/shape.ts";

/** What a try can have come to, with what each would set next for this lead if logged now. */
export const GET = serve("GET /outcomes", ({ desk, query, me }) => {
  const world = desk.look(query.get("lead"));
  return {
    items: desk.setup.policies.outcomes.map((outcome) => {
      const { step, said } = world.lead
        ? afterTry(world, me.id, outcome)
        : { step: afterOutcome(outcome, world, null), said: null };
      return {
        key: outcome.key,
        name: outcome.name,
        reached: outcome.reached,
        next: step && { note: step.note, dueAt: iso(step.dueAt) },
        otherwise: said,
      };
    }),
    next: null,
  };
});
