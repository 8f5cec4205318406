import { route } from "../../../../../../core/routing/route.ts";
import { problem, serve } from "../../../../../api/endpoint.ts";

/** What the rules would decide about a lead now, were it new: with every thought. Changes nothing. */
export const POST = serve("POST /setup/routing/try", ({ desk, body }) => {
  const world = desk.look(body.leadId);
  if (!world.lead) return problem("no-such-lead", 404, "No such lead", "There is no lead with that id.");
  const { routing } = desk.setup.policies;
  if (body.which === "draft" && !routing.draft)
    return problem("no-draft", 409, "No draft", "There is no draft of the rules.");
  const rules = body.which === "draft" ? routing.draft : null;
  const setup = rules
    ? { ...desk.setup, policies: { ...desk.setup.policies, rules: rules.rules, setAside: rules.setAside } }
    : desk.setup;
  const fresh = { ...world.lead, ownerId: null, handOff: null, refused: [] };
  const { trace } = route({ ...world, setup }, fresh);
  return { outcome: trace.outcome, steps: [...trace.steps] };
});
