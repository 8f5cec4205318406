import { Temporal } from "temporal-polyfill";

/** How often something usually arrives, by hour of the week, and when its silence begins to mean something. */

const HOUR = 3_600_000;
const WEEK_HOURS = 168;

/** Arrivals counted by the hour: epoch ms of the hour's start → how many. */
export type Hourly = ReadonlyMap<number, number>;

export interface Rhythm {
  /** Expected arrivals in each hour of the week, Monday 0:00 first, in the zone it was made for. */
  readonly perHour: Float64Array;
  readonly zone: string;
  /** Weeks of history behind it. */
  readonly weeks: number;
}

/** Silence is alarming when so many arrivals would have been expected: e⁻⁶ is one chance in 400. Poisson. */
export const QUIET_AFTER = 6;
/** Less history than this many weeks says nothing about a rhythm. */
const LEAST_WEEKS = 2;

function hourOfWeek(at: number, zone: string): number {
  const local = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone);
  return (local.dayOfWeek - 1) * 24 + local.hour;
}

/**
 * The usual rhythm from the arrivals in [`from`, `to`): for each hour of the week its mean over the weeks, smoothed
 * with the hours beside it (1-2-1), since few inquiries an hour make a ragged mean. An hour's count is taken as three
 * times a busy hour's mean at most: one burst, a campaign's first hour, is no rhythm.
 */
export function rhythmOf(hourly: Hourly, from: number, to: number, zone: string): Rhythm {
  const weeks = Math.max(0, (to - from) / (WEEK_HOURS * HOUR));
  const counts = new Float64Array(WEEK_HOURS);
  const within = [...hourly].filter(([at]) => at >= from - HOUR && at < to);
  const busy = within.reduce((sum, [, n]) => sum + n, 0) / Math.max(1, within.length);
  const most = Math.max(3, 3 * busy);
  for (const [at, n] of within) counts[hourOfWeek(at, zone)]! += Math.min(n, most);
  const perHour = new Float64Array(WEEK_HOURS);
  for (let h = 0; h < WEEK_HOURS; h++) {
    const before = counts[(h + WEEK_HOURS - 1) % WEEK_HOURS]!;
    const after = counts[(h + 1) % WEEK_HOURS]!;
    perHour[h] = weeks > 0 ? (before + 2 * counts[h]! + after) / 4 / weeks : 0;
  }
  return { perHour, zone, weeks };
}

/** How many would be expected in the hour that holds `at`. */
export function expectedAt(rhythm: Rhythm, at: number): number {
  return rhythm.perHour[hourOfWeek(at, rhythm.zone)]!;
}

/** How many would be expected between two moments (epoch ms). Over a week only whole weeks are counted one by one. */
export function expectedBetween(rhythm: Rhythm, from: number, to: number): number {
  if (to <= from) return 0;
  const perWeek = rhythm.perHour.reduce((a, b) => a + b, 0);
  const whole = Math.floor((to - from) / (WEEK_HOURS * HOUR));
  let sum = whole * perWeek;
  for (let at = from + whole * WEEK_HOURS * HOUR; at < to; ) {
    const next = Math.min(to, (Math.floor(at / HOUR) + 1) * HOUR);
    sum += expectedAt(rhythm, at) * ((next - at) / HOUR);
    at = next;
  }
  return sum;
}

/**
 * When a source last heard of at `last` counts as gone quiet: when `QUIET_AFTER` arrivals would have been expected
 * since; null when its rhythm is too thin or too young to tell.
 */
export function quietAt(rhythm: Rhythm, last: number): number | null {
  const perWeek = rhythm.perHour.reduce((a, b) => a + b, 0);
  if (rhythm.weeks < LEAST_WEEKS || perWeek < 1) return null;
  let left = QUIET_AFTER;
  const whole = Math.floor(left / perWeek);
  left -= whole * perWeek;
  let at = last + whole * WEEK_HOURS * HOUR;
  for (let i = 0; i <= WEEK_HOURS; i++) {
    const next = (Math.floor(at / HOUR) + 1) * HOUR;
    const rate = expectedAt(rhythm, at);
    const here = rate * ((next - at) / HOUR);
    if (here >= left) return Math.round(at + (left / rate) * HOUR);
    left -= here;
    at = next;
  }
  return at;
}

/** The chance of hearing nothing where `expected` would have come. Poisson. */
export function silenceChance(expected: number): number {
  return Math.exp(-expected);
}
