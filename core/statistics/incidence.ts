/** How one course ended: at a time, by one cause (1 or more), or without any yet (0: nothing more is known of it). */
export interface Course {
  readonly time: number;
  readonly cause: number;
}

/** The share that has come to the cause by a time, with its 95 % interval. */
export interface IncidencePoint {
  readonly time: number;
  readonly share: number;
  readonly low: number;
  readonly high: number;
  readonly atRisk: number;
}

/** z of a two-sided 95 % interval. */
const Z = 1.959_964;

/**
 * The cumulative incidence of one cause when others compete: of all who began, the share it has come to by each time. Whoever
 * stops for another reason can no longer come to it, and is not treated as if they still might.
 *
 * Source: Aalen and Johansen 1978, with the variance of Marubini and Valsecchi 1995 as in Aalen's estimator; checked against R’s
 * cmprsk. Times in any unit; courses in any order. Empty without courses. Never throws.
 */
export function cumulativeIncidence(courses: readonly Course[], cause: number): readonly IncidencePoint[] {
  const sorted = [...courses].sort((a, b) => a.time - b.time);
  const points: IncidencePoint[] = [];
  let atRisk = sorted.length;
  let survival = 1;
  let share = 0;
  /** Per time with an event: at risk, of this cause, of any, survival before, share after. */
  const steps: { n: number; d1: number; d: number; before: number; share: number }[] = [];
  for (let i = 0; i < sorted.length; ) {
    const { time } = sorted[i]!;
    let d1 = 0;
    let d = 0;
    let gone = 0;
    for (; i < sorted.length && sorted[i]!.time === time; i++) {
      gone++;
      if (sorted[i]!.cause !== 0) d++;
      if (sorted[i]!.cause === cause) d1++;
    }
    if (d > 0) {
      share += survival * (d1 / atRisk);
      steps.push({ n: atRisk, d1, d, before: survival, share });
      survival *= 1 - d / atRisk;
      if (d1 > 0) {
        const reach = Z * Math.sqrt(Math.max(0, variance(steps)));
        const point = {
          time,
          share,
          low: Math.max(0, share - reach),
          high: Math.min(1, share + reach),
          atRisk,
        };
        points.push(point);
      }
    }
    atRisk -= gone;
  }
  return points;
}

/** The variance of the share at the last step, by the delta method (Dinse and Larson 1986). */
function variance(
  steps: readonly { n: number; d1: number; d: number; before: number; share: number }[],
): number {
  const now = steps.at(-1)!.share;
  let sum = 0;
  for (const { n, d1, d, before, share } of steps) {
    const rest = now - share;
    if (n > d) sum += (rest * rest * d) / (n * (n - d));
    sum += (before * before * d1 * (n - d1)) / n ** 3 - (2 * rest * before * d1) / n ** 2;
  }
  return sum;
}
