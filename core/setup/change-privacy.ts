import { conditionProblem } from "../condition/condition.ts";
import { fieldFinder } from "../lead/fields.ts";
import type { PrivacyPolicy } from "../policy/privacy.ts";
import type { Setup } from "../policy/setup.ts";
import { refuse } from "../refusal.ts";
import type { Changed } from "./change.ts";

/** The shortest a rule may wait (days): erasing is for good, and a typing error is made quickly. */
export const SHORTEST_QUIET = 30;

/** Change how long what names somebody is kept. */
export function changePrivacy(setup: Setup, privacy: PrivacyPolicy): Changed {
  const wrong = (detail: string, field: string) =>
    refuse("rule-not-right", 422, "Not changed", detail, field);
  for (const [i, rule] of privacy.rules.entries()) {
    if (!rule.name.trim()) return wrong("Give the rule a name to find it by.", `rules.${i}.name`);
    if (rule.quietDays < SHORTEST_QUIET)
      return wrong(`${rule.name}: ${SHORTEST_QUIET} days are the least.`, `rules.${i}.quietDays`);
    const odd = conditionProblem(rule.when, fieldFinder(setup), `rules.${i}.when`);
    if (odd) return wrong(`${rule.name}: ${odd.message}`, odd.path);
  }
  return { ok: true, setup: { ...setup, policies: { ...setup.policies, privacy } } };
}
