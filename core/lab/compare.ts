import type { Setup } from "../policy/setup.ts";
import { accountOf } from "../report/account.ts";
import { inTargetOf } from "../report/figures/response.ts";
import { Stopwatch } from "../report/figures/span.ts";
import { jainIndex } from "../statistics/jain.ts";
import { pairedDifference } from "../statistics/paired.ts";
import { pointAt, quantileOf, survivalOf } from "../statistics/survival.ts";
import type { LabRecord } from "./run.ts";

/** What a run came to. */
export const MEASURES = {
  medianMinutes: "Median time to the first try, in the desk’s minutes",
  inTarget: "Share tried within the target",
  rang: "Leads that rang",
  passed: "Offers passed",
  lapsed: "Offers nobody took in time",
  messages: "Messages sent to leads",
  reached: "Leads reached",
  won: "Leads won that could be expected",
  tries: "Tries",
  evenness: "How evenly the tries are spread (Jain’s index)",
} as const;
export type Measure = keyof typeof MEASURES;
/** Null where a run says nothing of it. */
export type Measured = Readonly<Record<Measure, number | null>>;

/** Minutes of the desk at which it is asked which share has been tried by then. */
export const BY_MINUTES = [1, 2, 3, 5, 7, 10, 15, 20, 30, 45, 60, 90, 120, 180, 240, 360, 480, 600] as const;

/** What fell to somebody in a run. */
export interface PersonShare {
  readonly id: string;
  /** Leads they were the first to have, tries they made, and how long they were at it (ms). */
  readonly leads: number;
  readonly tries: number;
  readonly busy: number;
}

/** A run in figures. */
export interface RunTold {
  readonly measured: Measured;
  readonly people: readonly PersonShare[];
  /** The share tried within each of {@link BY_MINUTES}; those who were still waiting count as long as they waited. */
  readonly tried: readonly number[];
}

/** A run in figures, as it stood at its end (epoch ms). */
export function tellRun(
  record: LabRecord,
  setup: Setup,
  { from, to }: { from: number; to: number },
): RunTold {
  const watch = new Stopwatch("desk", setup, from, to);
  const accounts = [...record.events.values()].flatMap((events) => accountOf(events) ?? []);
  const leads = accounts.map((a) => a.lead);
  const offers = accounts.flatMap((a) => a.offers);
  const waits = leads.map(({ came, triedAt, untriedAt }) => ({
    time: watch.minutes(came, triedAt ?? untriedAt ?? to),
    came: triedAt !== null,
  }));
  const targets = leads.flatMap((lead) => inTargetOf(lead, to) ?? []);
  const tries = counted(accounts.flatMap((a) => a.tries.map((t) => t.person)));
  const firsts = counted(leads.map((l) => l.person));
  const count = <T>(list: readonly T[], is: (one: T) => boolean) => list.filter(is).length;
  const survival = survivalOf(waits);
  return {
    measured: {
      medianMinutes: quantileOf(survival, 0.5).at,
      inTarget: targets.length === 0 ? null : count(targets, (t) => t) / targets.length,
      rang: count(leads, (l) => l.rangAt !== null),
      passed: count(offers, (o) => o.how === "passed"),
      lapsed: count(offers, (o) => o.how === "lapsed"),
      messages: record.messages,
      reached: count(leads, (l) => l.talkedAt !== null),
      won: record.won,
      tries: leads.reduce((sum, l) => sum + l.tries, 0),
      evenness: jainIndex([...tries.values()]),
    },
    people: [...new Set([...tries.keys(), ...firsts.keys()])].map((id) => ({
      id,
      leads: firsts.get(id) ?? 0,
      tries: tries.get(id) ?? 0,
      busy: record.busy.get(id) ?? 0,
    })),
    tried: BY_MINUTES.map((minutes) => 1 - (pointAt(survival, minutes)?.waiting ?? 1)),
  };
}

function counted(ids: readonly (string | null)[]): ReadonlyMap<string, number> {
  const counts = new Map<string, number>();
  for (const id of ids) if (id !== null) counts.set(id, (counts.get(id) ?? 0) + 1);
  return counts;
}

export interface Difference {
  readonly key: Measure;
  /** The mean over the runs of each side. */
  readonly a: number | null;
  readonly b: number | null;
  /** How much more B came to than A on average, run by run, with its 95 % interval; null where fewer than two runs tell. */
  readonly mean: number | null;
  readonly low: number | null;
  readonly high: number | null;
}

const meanOf = (list: readonly number[]) => list.reduce((sum, n) => sum + n, 0) / list.length;

/**
 * A against B over runs that met the same chances: the i-th of one and of the other. Differences are taken run by run, so that
 * what chance did to both falls out. Never throws.
 */
export function compare(a: readonly Measured[], b: readonly Measured[]): readonly Difference[] {
  return (Object.keys(MEASURES) as Measure[]).map((key) => {
    const told = (runs: readonly Measured[]) => runs.flatMap((run) => run[key] ?? []);
    const [one, other] = [told(a), told(b)];
    const pairs = a.flatMap((run, i) => {
      const [before, after] = [run[key], b[i]?.[key] ?? null];
      return before === null || after === null ? [] : [after - before];
    });
    const sides = { a: one.length > 0 ? meanOf(one) : null, b: other.length > 0 ? meanOf(other) : null };
    return { key, ...sides, ...pairedDifference(pairs) };
  });
}
