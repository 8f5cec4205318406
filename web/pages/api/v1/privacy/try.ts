import { conditionProblem } from "../../../../../core/condition/condition.ts";
import { called } from "../../../../../core/lead/called.ts";
import { fieldFinder } from "../../../../../core/lead/fields.ts";
import { problem, serve } from "../../../../api/endpoint.ts";

/** So many are shown. */
const SHOWN = 50;

export const POST = serve("POST /privacy/try", ({ desk, body }) => {
  const odd = conditionProblem(body.when, fieldFinder(desk.setup), "when");
  if (odd) return problem("condition-cant-be-used", 422, "The condition can’t be used", odd.message, [odd]);
  const leads = desk.erasures.wouldErase(body);
  return {
    count: leads.length,
    items: leads
      .slice(0, SHOWN)
      .map((lead) => ({ id: lead.id, who: called(lead), last: new Date(lead.lastActivityAt).toISOString() })),
  };
});
