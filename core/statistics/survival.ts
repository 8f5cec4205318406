/** How long one waited: until it came (`came`), or until nothing more was known of it. */
export interface Wait {
  /** In any unit, 0 or more. */
  readonly time: number;
  readonly came: boolean;
}

/** What share still waits after a time, with its 95 % band, and how many were still waiting just before. */
export interface SurvivalPoint {
  readonly time: number;
  readonly waiting: number;
  readonly low: number;
  readonly high: number;
  readonly atRisk: number;
  /** Greenwood's variance of `waiting`. */
  readonly variance: number;
}

/** A time by which a share has come, with its 95 % interval; null where the record does not reach so far. */
export interface QuantileOf {
  readonly at: number | null;
  readonly low: number | null;
  readonly high: number | null;
}

export interface Survival {
  /** All who waited, and those it has not come to. */
  readonly n: number;
  readonly censored: number;
  /** A point for each time at which it came to somebody, in order; everybody waits before the first. */
  readonly points: readonly SurvivalPoint[];
}

/** z of a two-sided 95 % interval. */
const Z = 1.959_964;
/** Shares that differ by less are the same: what is left of many multiplications. */
const SAME = 1e-9;

/**
 * The share that still waits as time goes on, by Kaplan and Meier: those of whom nothing more is known count as long as they
 * were seen to wait, and are never left out. Bands are Greenwood's variance on the log(−log) scale, so that they stay between
 * 0 and 1; where nobody waits any more the band is what it was before.
 *
 * Source: Kaplan and Meier 1958, Greenwood 1926, Kalbfleisch and Prentice 2002 for the scale; checked against R's survival.
 * Waits in any order. Without waits there are no points. Never throws.
 */
export function survivalOf(waits: readonly Wait[]): Survival {
  const { came, ends } = sortedTimes(waits);
  const points: SurvivalPoint[] = [];
  let [waiting, sum, gone] = [1, 0, 0];
  let band = { low: 1, high: 1 };
  for (let i = 0; i < came.length; ) {
    const time = came[i]!;
    const first = i;
    while (i < came.length && came[i] === time) i++;
    const events = i - first;
    while (gone < ends.length && ends[gone]! < time) gone++;
    const atRisk = ends.length - gone;
    waiting *= 1 - events / atRisk;
    const isOver = events === atRisk;
    if (!isOver) {
      sum += events / (atRisk * (atRisk - events));
      band = logLogBand(waiting, sum);
    } else band = { low: 0, high: band.high };
    const variance = isOver ? 0 : waiting * waiting * sum;
    points.push({ time, waiting: isOver ? 0 : waiting, ...band, atRisk, variance });
  }
  return { n: ends.length, censored: ends.length - came.length, points };
}

/** When it came, and when each was seen last, both in order: sorting plain numbers is ten times as fast as sorting waits. */
export function sortedTimes(waits: readonly Wait[]): {
  readonly came: Float64Array;
  readonly ends: Float64Array;
} {
  const came = Float64Array.from(waits.filter((w) => w.came).map((w) => w.time));
  const ends = Float64Array.from(waits, (w) => w.time);
  return { came: came.sort(), ends: ends.sort() };
}

function logLogBand(waiting: number, sum: number): { low: number; high: number } {
  const log = Math.log(waiting);
  const reach = (Z * Math.sqrt(sum)) / Math.abs(log);
  return { low: waiting ** Math.exp(reach), high: waiting ** Math.exp(-reach) };
}

/** The last point at or before a time; null before the first. */
export function pointAt({ points }: Survival, time: number): SurvivalPoint | null {
  let [low, high] = [0, points.length];
  while (low < high) {
    const mid = (low + high) >>> 1;
    if (points[mid]!.time <= time) low = mid + 1;
    else high = mid;
  }
  return points[low - 1] ?? null;
}

/**
 * The time by which the share `p` (0 to 1) has come, with its interval by Brookmeyer and Crowley 1982: the times for which
 * the band holds 1 − p. Each is null where the curve, or its band, does not fall so low. The first time at which it has, where a
 * flat stretch lies just at 1 − p. Never throws.
 */
export function quantileOf({ points }: Survival, p: number): QuantileOf {
  const level = 1 - p + SAME;
  const first = (key: "waiting" | "low" | "high") =>
    points.find((point) => point[key] <= level)?.time ?? null;
  return { at: first("waiting"), low: first("low"), high: first("high") };
}

/**
 * How much greater the share is that has come by `time` in `a` than in `b`, with its 95 % interval: normal, by Greenwood's
 * variances. Null where in one of them nobody was still seen by then. Never throws.
 */
export function differenceAt(
  a: Survival,
  b: Survival,
  time: number,
): { readonly difference: number; readonly low: number; readonly high: number } | null {
  if (a.n === 0 || b.n === 0) return null;
  const [one, other] = [pointAt(a, time), pointAt(b, time)];
  const difference = (other?.waiting ?? 1) - (one?.waiting ?? 1);
  const variance = (one?.variance ?? 0) + (other?.variance ?? 0);
  if (variance === 0) return null;
  const reach = Z * Math.sqrt(variance);
  return { difference, low: Math.max(-1, difference - reach), high: Math.min(1, difference + reach) };
}
