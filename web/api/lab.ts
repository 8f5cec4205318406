import { isOfRules, type LabChange, setupWith } from "../../core/lab/changes.ts";
import type { Experiment } from "../../core/lab/experiment.ts";
import type { Side } from "../../core/lab/result.ts";
import { RUNGS } from "../../core/policy/bell-names.ts";
import type { RuleSet } from "../../core/policy/routing.ts";
import { type Problem, refuse } from "../../core/refusal.ts";
import type { Desk } from "../../server/desk.ts";
import { NoFigures } from "../../server/figures/figures.ts";
import type { KeptExperiment } from "../../server/lab/lab-bench.ts";
import type * as wire from "../wire/lab-schemas.ts";
import { refusal } from "./endpoint.ts";
import { caughtUp, spanOf } from "./figures.ts";

type Either<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly problem: Problem };

/** A change as it was asked for, as the lab makes it: which rules are meant is looked up. */
function changeOf(desk: Desk, change: wire.LabChange, path: string): Either<LabChange> {
  if (change.kind !== "rules") return { ok: true, value: change };
  const { draft } = desk.setup.policies.routing;
  const set = change.of === "draft" ? draft : desk.office.versions().find((v) => v.version === change.of);
  if (!set)
    return refuse(
      "invalid",
      422,
      "No such rules",
      change.of === "draft"
        ? "There is no draft of the rules any more."
        : `There is no version ${change.of}.`,
      path,
    );
  const { rules, setAside } = set;
  return { ok: true, value: { kind: "rules", ruleSet: { rules, setAside }, of: change.of } };
}

/** What was asked for, as the lab runs it; or why it can't. */
function experimentOf(desk: Desk, sent: wire.StartLab): Either<Experiment> {
  const span = spanOf(desk, sent);
  if (!span.ok) return span;
  const sides: Record<Side, LabChange[]> = { a: [], b: [] };
  for (const side of ["a", "b"] as const)
    for (const [i, change] of sent[side].entries()) {
      const made = changeOf(desk, change, `${side}.${i}`);
      if (!made.ok) return made;
      sides[side].push(made.value);
    }
  const { from, to } = span.value;
  const end = Math.min(to, desk.clock.now());
  return {
    ok: true,
    value: { from, to: end, demand: sent.demand, runs: sent.runs, seed: sent.seed, ...sides },
  };
}

/** Begin an experiment, once the accounts it learns from have come up to the last event. */
export async function startLab(desk: Desk, sent: wire.StartLab, by: string): Promise<Either<KeptExperiment>> {
  const experiment = experimentOf(desk, sent);
  if (!experiment.ok) return experiment;
  try {
    await caughtUp(desk, experiment.value);
  } catch (error) {
    if (!(error instanceof NoFigures)) throw error;
    return refuse("not-now", 409, "Not just now", error.message);
  }
  const begun = desk.lab.start(sent.name.trim(), experiment.value, by);
  return begun.ok ? { ok: true, value: desk.lab.get(begun.id)! } : begun;
}

/** The rules of a side, as they can become the draft, and what is left to be changed by hand. */
export function draftOf(
  desk: Desk,
  kept: KeptExperiment,
  side: Side,
): Either<RuleSet & { readonly byHand: string[] }> {
  const changes = kept.asked[side];
  if (!changes.some(isOfRules))
    return refuse("no-rules", 409, "No rules to draft", "This side changes no rules of routing.");
  const made = setupWith(desk.setup, changes.filter(isOfRules), side);
  if (!made.ok) return made;
  const { rules, setAside } = made.setup.policies;
  const byHand = kept.said[side].filter((_, i) => !isOfRules(changes[i]!));
  return { ok: true, value: { byHand, rules, setAside } };
}

/** What can be changed, as it is live. */
export function choices(desk: Desk): wire.LabChoices {
  const { policies, groups, people, sources } = desk.setup;
  const named = ({ id, name }: { readonly id: string; readonly name: string }) => ({ id, name });
  const { version, draft } = policies.routing;
  const reply = (channel: "email" | "text") => {
    const { on, delayMinutes } = policies.replies.usual[channel];
    return on ? delayMinutes : null;
  };
  return {
    versions: [
      ...(draft ? [{ of: "draft" as const, name: "the draft" }] : []),
      ...desk.office
        .versions()
        .filter((v) => v.version !== version)
        .map((v) => ({ of: v.version, name: `version ${v.version}` })),
    ],
    rules: policies.rules.filter((r) => !r.off).map((r) => ({ ...named(r), minutes: r.offerMinutes })),
    groups: groups.map((g) => ({ ...named(g), way: g.way, members: [...g.members] })),
    // Those who sell come first: they are changed most.
    people: [...people]
      .filter((p) => !p.left)
      .sort((a, b) => Number(b.role === "salesperson") - Number(a.role === "salesperson"))
      .map(named),
    targets: policies.targets.filter((t) => !t.off).map((t) => ({ ...named(t), minutes: t.minutes })),
    rungs: policies.ladders.flatMap(({ id, name, rungs }) =>
      rungs.map((rung, i) => ({
        ladderId: id,
        n: i + 1,
        name: `${name}, rung ${i + 1}: ${RUNGS[rung.act]}`,
        fraction: rung.fraction,
      })),
    ),
    cadences: policies.cadences.flatMap(({ id, live, draft: drafted }) => {
      const name = (live ?? drafted)?.name;
      return name ? [{ id, name, drafted: drafted !== null }] : [];
    }),
    replies: { email: reply("email"), text: reply("text") },
    sources: sources.map(named),
    zone: policies.desk.zone,
  };
}

export const noSuchExperiment = (): Response =>
  refusal(refuse("no-such-experiment", 404, "No such experiment", "It is gone; run it again.").problem);
