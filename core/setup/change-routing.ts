import { conditionProblem } from "../condition/condition.ts";
import { fieldFinder } from "../lead/fields.ts";
import { GROUP_WAYS } from "../policy/people.ts";
import type { Rule, RuleSet } from "../policy/routing.ts";
import type { Policies, Setup } from "../policy/setup.ts";
import { refuse } from "../refusal.ts";
import type { Changed } from "./change.ts";

/** What is wrong with the rules, with its path; null when they can be published. */
export function rulesProblem(setup: Setup, { rules }: RuleSet): { path: string; message: string } | null {
  const find = fieldFinder(setup);
  for (const [i, rule] of rules.entries()) {
    const at = `rules.${i}`;
    if (!rule.name.trim()) return { path: `${at}.name`, message: `Rule ${i + 1} needs a name.` };
    if (rules.findIndex((r) => r.name.trim().toLowerCase() === rule.name.trim().toLowerCase()) !== i)
      return { path: `${at}.name`, message: `Two rules are called “${rule.name}”.` };
    if (!(rule.offerMinutes > 0 && rule.offerMinutes <= 10_080))
      return {
        path: `${at}.offerMinutes`,
        message: `“${rule.name}”: give each person a minute to a week to take it.`,
      };
    const wrong = conditionProblem(rule.when, find, `${at}.when`) ?? targetProblem(setup, rule, `${at}.to`);
    if (wrong) return { ...wrong, message: `“${rule.name}”: ${wrong.message}` };
  }
  return null;
}

function targetProblem(setup: Setup, { to }: Rule, path: string): { path: string; message: string } | null {
  if ("person" in to && !setup.people.some((p) => p.id === to.person && !p.left))
    return { path, message: "choose somebody who works here." };
  if ("group" in to && !setup.groups.some((g) => g.id === to.group))
    return { path, message: "choose a group." };
  if ("group" in to && to.way && !Object.hasOwn(GROUP_WAYS, to.way))
    return { path, message: "choose how the group is asked." };
  if ("formerWithin" in to && !(to.formerWithin >= 1 && to.formerWithin <= 3650))
    return { path, message: "give the days within which the last owner counts, from 1 to 3650." };
  return null;
}

const withPolicies = (setup: Setup, change: Partial<Policies>): Changed => ({
  ok: true,
  setup: { ...setup, policies: { ...setup.policies, ...change } },
});

/** Keep a draft of the rules. It may be unfinished: only publishing asks that it is sound. */
export function draftRules(setup: Setup, { rules, setAside }: RuleSet, by: string, at: number): Changed {
  return withPolicies(setup, {
    routing: { ...setup.policies.routing, draft: { rules, setAside, by, at } },
  });
}

/** Throw the draft away. */
export function dropDraft(setup: Setup): Changed {
  return withPolicies(setup, { routing: { ...setup.policies.routing, draft: null } });
}

/** Put the draft in force as the next version. */
export function publishRules(setup: Setup, by: string, at: number): Changed {
  const { draft, version } = setup.policies.routing;
  if (!draft)
    return refuse("nothing-to-publish", 409, "Nothing to publish", "There is no draft. Change a rule first.");
  const wrong = rulesProblem(setup, draft);
  if (wrong)
    return refuse("it-cant-be-published-yet", 422, "It can’t be published yet", wrong.message, wrong.path);
  if (!draft.rules.some((r) => !r.off))
    return refuse(
      "no-rule-at-all",
      422,
      "No rule at all",
      "With no rule every lead would go to standby. Keep one at least.",
      "rules",
    );
  const rules = draft.rules.map((r) => ({ ...r, name: r.name.trim() }));
  return withPolicies(setup, {
    rules,
    setAside: draft.setAside,
    routing: { version: version + 1, publishedAt: at, by, draft: null },
  });
}

/** Change what becomes of turns that came to nothing, who is on standby, and the reasons for passing. */
export function changeTurns(
  setup: Setup,
  { turns, standby, passReasons }: Pick<Policies, "turns" | "standby" | "passReasons">,
): Changed {
  const gone = standby.findIndex((id) => !setup.people.some((p) => p.id === id && !p.left));
  if (gone >= 0)
    return refuse(
      "nobody-by-that-id",
      422,
      "Nobody by that id",
      "Choose somebody who works here.",
      `standby.${gone}`,
    );
  const reasons = [...new Set(passReasons.map((r) => r.trim()).filter(Boolean))];
  if (reasons.length === 0)
    return refuse(
      "no-reason-to-choose",
      422,
      "No reason to choose",
      "Keep one reason for passing at least.",
      "passReasons",
    );
  return withPolicies(setup, { turns, standby, passReasons: reasons });
}
