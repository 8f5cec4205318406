import type { Setup } from "../policy/setup.ts";
import { accountOf } from "../report/account.ts";
import { inTargetOf } from "../report/figures/response.ts";
import { Stopwatch } from "../report/figures/span.ts";
import { jainIndex } from "../statistics/jain.ts";
import { quantileOf, survivalOf } from "../statistics/survival.ts";
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

/** What a run came to, as it stood at its end (epoch ms). */
export function measure(
  record: LabRecord,
  setup: Setup,
  { from, to }: { from: number; to: number },
): Measured {
  const watch = new Stopwatch("desk", setup, from, to);
  const accounts = [...record.events.values()].flatMap((events) => accountOf(events) ?? []);
  const leads = accounts.map((a) => a.lead);
  const offers = accounts.flatMap((a) => a.offers);
  const waits = leads.map(({ came, triedAt, untriedAt }) => ({
    time: watch.minutes(came, triedAt ?? untriedAt ?? to),
    came: triedAt !== null,
  }));
  const targets = leads.flatMap((lead) => inTargetOf(lead, to) ?? []);
  const perPerson = new Map<string, number>();
  for (const one of accounts.flatMap((a) => a.tries))
    if (one.person) perPerson.set(one.person, (perPerson.get(one.person) ?? 0) + 1);
  const count = <T>(list: readonly T[], is: (one: T) => boolean) => list.filter(is).length;
  return {
    medianMinutes: quantileOf(survivalOf(waits), 0.5).at,
    inTarget: targets.length === 0 ? null : count(targets, (t) => t) / targets.length,
    rang: count(leads, (l) => l.rangAt !== null),
    passed: count(offers, (o) => o.how === "passed"),
    lapsed: count(offers, (o) => o.how === "lapsed"),
    messages: record.messages,
    reached: count(leads, (l) => l.talkedAt !== null),
    won: record.won,
    tries: leads.reduce((sum, l) => sum + l.tries, 0),
    evenness: jainIndex([...perPerson.values()]),
  };
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

/** Student's t of a two-sided 95 % interval, by degrees of freedom from 1; beyond, the normal's. Source: published tables. */
const T95 = [
  12.706, 4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228, 2.201, 2.179, 2.16, 2.145, 2.131,
  2.12, 2.11, 2.101, 2.093, 2.086, 2.08, 2.074, 2.069, 2.064, 2.06, 2.056, 2.052, 2.048, 2.045, 2.042,
];

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
    if (pairs.length < 2) return { key, ...sides, mean: null, low: null, high: null };
    const mean = meanOf(pairs);
    const variance = pairs.reduce((sum, d) => sum + (d - mean) ** 2, 0) / (pairs.length - 1);
    const reach = (T95[pairs.length - 2] ?? 1.96) * Math.sqrt(variance / pairs.length);
    return { key, ...sides, mean, low: mean - reach, high: mean + reach };
  });
}
