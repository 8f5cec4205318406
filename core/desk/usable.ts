import { evaluate } from "../condition/condition.ts";
import type { Condition, Facts } from "../condition/tree.ts";
import { factsOf } from "../lead/fields.ts";
import { renderTemplate } from "../message/template.ts";
import { calendarAround } from "../policy/people.ts";
import type { Setup } from "../policy/setup.ts";
import { type Problem, refuse } from "../refusal.ts";
import { hoursProblem } from "../setup/change-people.ts";
import { holidaysIn } from "../time/holidays.ts";
import { sampleLead } from "./sample-lead.ts";

/**
 * What keeps a set-up from being used, found by using each part of it once: hours compiled to a calendar, templates
 * filled in, conditions asked. Null when all of it can be. What is stored without this could end the desk for good, since
 * every start uses it. Never throws.
 */
export function unusable(setup: Setup, now: number): Problem | null {
  return (
    zoneProblem(setup, now) ??
    used("holidays", () => {
      const { holidays } = setup.policies;
      if (holidays) holidaysIn(holidays.country, holidays.region, 2026);
    }) ??
    withSample(setup, now)
  );
}

function used(path: string, use: () => void): Problem | null {
  try {
    use();
    return null;
  } catch (error) {
    const said = error instanceof Error ? error.message : String(error);
    return refuse("it-cant-be-used", 422, "It can’t be used", `This can’t be used: ${said}`, path).problem;
  }
}

/** Zones and hours of the desk, its people and its territories. */
function zoneProblem({ policies, people }: Setup, now: number): Problem | null {
  const hours = [
    { hours: policies.desk, path: "desk" },
    ...people.map((p, i) => ({ hours: p.hours, path: `people.${i}.hours` })),
  ];
  for (const { hours: one, path } of hours) {
    const problem = hoursProblem(one, path)?.problem ?? used(path, () => calendarAround(one, now));
    if (problem) return problem;
  }
  for (const [i, { zone }] of policies.territories.entries()) {
    const problem = hoursProblem({ zone, week: {} }, `territories.${i}`)?.problem;
    if (problem) return problem;
  }
  return null;
}

/** Templates and conditions, tried on somebody made up. */
function withSample(setup: Setup, now: number): Problem | null {
  const [source] = setup.sources;
  if (!source) return null;
  let facts: Facts = () => null;
  const sampled = used("policies", () => {
    const lead = sampleLead(setup, source, now);
    facts = factsOf(lead, setup, now);
    for (const template of setup.policies.templates) renderTemplate(template, setup, lead);
  });
  if (sampled) return sampled;
  for (const [path, when] of conditionsOf(setup)) {
    const problem = used(path, () => evaluate(when, facts));
    if (problem) return problem;
  }
  return null;
}

/** Every condition a set-up goes by, with where it stands. */
function conditionsOf({ policies, sources }: Setup): readonly (readonly [string, Condition | null])[] {
  const { rules, routing, targets, wakes, replies, cadences } = policies;
  const ways = [replies.usual, ...sources.flatMap((s) => s.reply ?? [])].flatMap((r) => [r.email, r.text]);
  return [
    ...rules.map((r, i) => [`rules.${i}.when`, r.when] as const),
    ...(routing.draft?.rules ?? []).map((r, i) => [`routing.draft.rules.${i}.when`, r.when] as const),
    ...targets.map((t, i) => [`targets.${i}.when`, t.when] as const),
    ...wakes.map((w, i) => [`wakes.${i}.when`, w.when] as const),
    ...cadences.flatMap(({ live, kept }, i) =>
      [live, ...kept.map((k) => k.plan)].flatMap((plan) => [
        ...(plan?.touches ?? []).map((t) => [`cadences.${i}.touches`, t.when ?? null] as const),
        ...(plan?.enters ?? []).map((e) => [`cadences.${i}.enters`, e.when ?? null] as const),
      ]),
    ),
    ...ways.flatMap((way) => way.choices.map((c) => ["replies", c.when] as const)),
  ];
}
