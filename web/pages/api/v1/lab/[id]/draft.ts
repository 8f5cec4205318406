import { draftRules } from "../../../../../../core/setup/change-routing.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { draftOf, noSuchExperiment } from "../../../../../api/lab.ts";

/** The rules of a side become the draft; nothing changes for leads until it is published. */
export const POST = serve("POST /lab/[id]/draft", ({ desk, me, params, body }) => {
  const kept = desk.lab.get(params.id ?? "");
  if (!kept) return noSuchExperiment();
  const made = draftOf(desk, kept, body.side);
  if (!made.ok) return refusal(made.problem);
  const { byHand, ...ruleSet } = made.value;
  const changed = desk.office.change(me.id, (setup, now) => draftRules(setup, ruleSet, me.id, now));
  return changed.ok ? { byHand } : refusal(changed.problem);
});
