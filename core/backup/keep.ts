import { Temporal } from "temporal-polyfill";

/** How many backups are kept: the newest of each of the last days, weeks and months that have one. */
export interface KeepPattern {
  readonly daily: number;
  readonly weekly: number;
  readonly monthly: number;
}

/**
 * Which of the backups made at these times (epoch ms) are kept, by the calendar of a zone; weeks begin on Monday. The newest of all is
 * always among them. Never throws.
 */
export function toKeep(
  times: readonly number[],
  { daily, weekly, monthly }: KeepPattern,
  zone: string,
): ReadonlySet<number> {
  const newest = [...times].sort((a, b) => b - a);
  const kept = new Set<number>(newest.slice(0, 1));
  const dated = newest.map((at) => ({
    at,
    date: Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone).toPlainDate(),
  }));
  const newestOfEach = (most: number, span: (date: Temporal.PlainDate) => string) => {
    const seen = new Set<string>();
    for (const { at, date } of dated) {
      const key = span(date);
      if (seen.has(key)) continue;
      if (seen.size >= most) break;
      seen.add(key);
      kept.add(at);
    }
  };
  newestOfEach(daily, (date) => date.toString());
  newestOfEach(weekly, (date) => date.subtract({ days: date.dayOfWeek - 1 }).toString());
  newestOfEach(monthly, (date) => date.toPlainYearMonth().toString());
  return kept;
}
