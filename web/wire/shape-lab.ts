import { isOfRules, type LabChange } from "../../core/lab/changes.ts";
import { MEASURES } from "../../core/lab/compare.ts";
import type { WireDay } from "../../core/lab/day.ts";
import type { PersonLoad } from "../../core/lab/result.ts";
import { nameOf, type Setup } from "../../core/policy/setup.ts";
import type { KeptExperiment } from "../../server/lab/lab-bench.ts";
import type * as wire from "./lab-schemas.ts";

const iso = (at: number) => new Date(at).toISOString();
const MINUTE = 60_000;
const WEEK = 7 * 24 * 60 * MINUTE;

/** An experiment in a line. */
export const toLabLine = (setup: Setup, kept: Omit<KeptExperiment, "result">): wire.LabLine => ({
  id: kept.id,
  name: kept.name,
  at: iso(kept.at),
  by: nameOf(setup, kept.by),
  state: kept.state,
  error: kept.error,
  done: kept.done,
  total: kept.asked.runs * 2,
  said: { a: [...kept.said.a], b: [...kept.said.b] },
});

/** An experiment, whole. */
export function toExperiment(setup: Setup, kept: KeptExperiment): wire.LabExperiment {
  const { asked, result } = kept;
  const { from, to, demand, runs, seed } = asked;
  return {
    ...toLabLine(setup, kept),
    asked: {
      from: iso(from),
      to: iso(to),
      demand: demand.kind === "past" ? demand : { ...demand, bursts: demand.bursts.map((b) => ({ ...b })) },
      runs,
      seed,
    },
    changes: { a: asked.a.map(toChange), b: asked.b.map(toChange) },
    draftable: { a: asked.a.some(isOfRules), b: asked.b.some(isOfRules) },
    result: result && {
      from: iso(result.stretch.from),
      to: iso(result.stretch.to),
      weeks: (result.stretch.to - result.stretch.from) / WEEK,
      runs: result.runs,
      came: result.came,
      differences: result.differences.map((d) => ({ ...d, name: MEASURES[d.key] })),
      people: result.people.map(({ id, name, a, b }) => ({ id, name, a: load(a), b: load(b) })),
      tried: result.tried.map((t) => ({ ...t })),
      days: { a: day(result.days.a), b: day(result.days.b) },
      assumes: [...result.assumes],
      rulesVersion: result.rulesVersion,
    },
  };
}

/** A change as it was asked for: which rules were meant, and not the rules themselves. */
const toChange = (change: LabChange): wire.LabChange =>
  change.kind === "rules" ? { kind: "rules", of: change.of } : (change as wire.LabChange);

const load = (share: PersonLoad["a"]) =>
  share && { leads: share.leads, tries: share.tries, busyMinutes: share.busy / MINUTE };

const day = (told: WireDay | null) =>
  told && {
    from: iso(told.from),
    to: iso(told.to),
    leads: told.leads.map(({ id, name, states }) => ({
      id,
      name,
      states: states.map(({ at, dueAt, ...state }) => ({
        ...state,
        at: iso(at),
        dueAt: dueAt === null ? null : iso(dueAt),
      })),
    })),
  };
