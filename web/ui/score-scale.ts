/** Where a time lies on the score, from 0 to 1: the first hours are stretched, so that what comes close together is told apart. */

/** From here on days are evenly far from one another (ms). */
const KNEE = 3_600_000;

/** The place of `ms` after the beginning on a scale that ends at `last` (ms). Grows with `ms`; 0 at or before the beginning. */
export function placeOn(ms: number, last: number): number {
  const end = bent(Math.max(last, KNEE));
  return Math.min(1, bent(Math.max(0, ms)) / end);
}

/** Even per hour at first, then slower and slower. */
const bent = (ms: number) => Math.sqrt(ms / KNEE + 1) - 1;

export interface Mark {
  readonly ms: number;
  readonly label: string;
}

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const MARKS: readonly Mark[] = [
  { ms: 0, label: "start" },
  { ms: HOUR, label: "1 h" },
  { ms: 4 * HOUR, label: "4 h" },
  { ms: DAY, label: "1 day" },
  { ms: 2 * DAY, label: "2" },
  { ms: 4 * DAY, label: "4" },
  { ms: 7 * DAY, label: "1 week" },
  { ms: 14 * DAY, label: "2 weeks" },
  { ms: 30 * DAY, label: "30 days" },
  { ms: 60 * DAY, label: "60" },
  { ms: 90 * DAY, label: "90" },
  { ms: 180 * DAY, label: "180" },
  { ms: 365 * DAY, label: "a year" },
  { ms: 730 * DAY, label: "2 years" },
];

/** The marks of a scale of that length, as many as there is room for. */
export function marksOn(last: number, least = 0.055): readonly Mark[] {
  const shown: Mark[] = [];
  for (const mark of MARKS) {
    if (mark.ms > Math.max(last, HOUR)) break;
    const before = shown.at(-1);
    if (!before || placeOn(mark.ms, last) - placeOn(before.ms, last) >= least) shown.push(mark);
  }
  return shown;
}
