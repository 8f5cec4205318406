import { planProblem } from "../../../../../../../core/setup/change-cadences.ts";
import { leadFor } from "../../../../../../api/belongs.ts";
import { problem, serve } from "../../../../../../api/endpoint.ts";
import { planFrom, toPreview } from "../../../../../../wire/shape-cadences.ts";

/** What would go out when, for a lead of theirs or somebody made up; of what is being edited where that is sent. */
export const POST = serve("POST /setup/cadences/[id]/preview", ({ desk, me, rights, params, body }) => {
  const id = params.id ?? "";
  const cadence = desk.setup.policies.cadences.find((c) => c.id === id);
  const plan = body.plan ? planFrom(body.plan) : (cadence?.draft ?? cadence?.live);
  if (!plan) return problem("no-such-cadence", 404, "No such cadence", "There is no cadence with that id.");
  const wrong = planProblem(desk.setup, id, plan);
  if (wrong) return problem("it-cant-be-drawn-yet", 422, "It can’t be drawn yet", wrong.message, [wrong]);
  const lead = body.leadId ? leadFor(desk, { me, rights }, body.leadId) : null;
  if (body.leadId && !lead)
    return problem("no-such-lead", 404, "No such lead", "There is no lead with that id.");
  const startAt = body.startAt ? Date.parse(body.startAt) : desk.clock.now();
  return toPreview(desk, id, plan, startAt, lead);
});
