import type { InquiryFacts } from "../lead/inquiry.ts";
import { Draws } from "../statistics/draws.ts";
import { hourOfWeek } from "../time/week-hours.ts";

/** Somebody who inquires, in the lab. */
export interface Arrival {
  /** Epoch ms. */
  readonly at: number;
  readonly sourceId: string;
  readonly facts: InquiryFacts;
}

/** How many come, by the hour of the desk's week, and how that grows. */
export interface Demand {
  /** Expected in each hour of the week, 168 of them, Monday from midnight. */
  readonly perHour: readonly number[];
  readonly zone: string;
  /** How much more come each week than the week before: 0.05 is five per cent. */
  readonly growth: number;
  /** An ad that starts: so many more within a stretch of time (epoch ms, end exclusive). */
  readonly bursts: readonly {
    readonly from: number;
    readonly to: number;
    readonly sourceId: string;
    readonly more: number;
  }[];
  /** Inquiries as they have really come: each arrival is like one of them. */
  readonly like: readonly Pick<Arrival, "sourceId" | "facts">[];
}

const HOUR = 3_600_000;
const WEEK = 168 * HOUR;

/** How many are expected in an hour that begins then. */
const expectedAt = ({ perHour, zone, growth }: Demand, hour: number, from: number): number =>
  (perHour[hourOfWeek(hour, zone)] ?? 0) * (1 + growth) ** ((hour - from) / WEEK);

/** How many would come from `from` to `to` (epoch ms), about: so that too many are known before they are drawn. Never throws. */
export function expectedOf(demand: Demand, from: number, to: number): number {
  if (demand.like.length === 0) return 0;
  let sum = demand.bursts.reduce((all, burst) => all + burst.more, 0);
  for (let hour = from; hour < to; hour += HOUR) sum += expectedAt(demand, hour, from);
  return sum;
}

/**
 * Who inquires from `from` to `to` (epoch ms): Poisson by the hour of the week, growing, with bursts; the same for the same seed.
 * None where there is nothing they could be like. Never throws.
 */
export function arrivalsOf(demand: Demand, from: number, to: number, seed: number): readonly Arrival[] {
  const { bursts, like } = demand;
  if (like.length === 0) return [];
  const draws = new Draws(seed);
  const arrivals: Arrival[] = [];
  const within = (a: number, b: number, n: number, from_: readonly Demand["like"][number][]) => {
    for (let i = 0; i < n; i++)
      arrivals.push({ ...draws.pick(from_), at: Math.floor(a + draws.next() * (b - a)) });
  };
  for (let hour = Math.floor(from / HOUR) * HOUR; hour < to; hour += HOUR) {
    const [a, b] = [Math.max(hour, from), Math.min(hour + HOUR, to)];
    within(a, b, draws.count((expectedAt(demand, hour, from) * (b - a)) / HOUR), like);
  }
  for (const burst of bursts) {
    const own = like.filter((one) => one.sourceId === burst.sourceId);
    const [a, b] = [Math.max(burst.from, from), Math.min(burst.to, to)];
    if (a < b) within(a, b, draws.count(burst.more), own.length > 0 ? own : like);
  }
  return arrivals.sort((a, b) => a.at - b.at);
}
