import { Temporal } from "temporal-polyfill";
import { type Calendar, nextOpening } from "./calendar.ts";

/** How far to put something off, in calendar days of a zone. */
export interface Deferral {
  readonly days: number;
  /** Roll a Saturday or Sunday forward to Monday. */
  readonly skipWeekend?: boolean;
  /** Wall time `HH:MM`; the time of day of the start when left out. */
  readonly at?: string;
}

/**
 * `days` calendar days after `from` in `zone`, rolled forward off a weekend when asked. Common practice:
 * calendar days are counted and the result is rolled, so four days after Wednesday 17 Feb 2021 is
 * Monday 22 Feb (counting only working days would be another rule).
 */
export function inDays(from: number, zone: string, how: Deferral): number {
  const start = Temporal.Instant.fromEpochMilliseconds(from).toZonedDateTimeISO(zone);
  let then = start.add({ days: how.days });
  if (how.at) then = then.withPlainTime(Temporal.PlainTime.from(how.at));
  if (how.skipWeekend) while (then.dayOfWeek > 5) then = then.add({ days: 1 });
  return then.epochMilliseconds;
}

/** Like {@link inDays}, then moved to the desk's next opening when it is closed at that time. */
export function inDaysWhenOpen(from: number, calendar: Calendar, how: Deferral): number {
  let then = inDays(from, calendar.zone, how);
  // An opening found on a weekend the caller wants skipped is put off again, a day at a time.
  for (let i = 0; i < 10; i++) {
    const open = nextOpening(calendar, then) ?? then;
    const day = Temporal.Instant.fromEpochMilliseconds(open).toZonedDateTimeISO(calendar.zone).dayOfWeek;
    if (!how.skipWeekend || day <= 5) return open;
    then = inDays(open, calendar.zone, { days: 1, skipWeekend: true, at: "00:00" });
  }
  return then;
}

/** When a day such as `2026-03-04`, or one so many days after it, begins in a zone (epoch ms); null when it is no day. */
export function dayBegins(date: string, zone: string, after = 0): number | null {
  try {
    return Temporal.PlainDate.from(date).add({ days: after }).toZonedDateTime(zone).epochMilliseconds;
  } catch {
    return null;
  }
}

/** The first instant of the local day that `at` falls in (epoch ms). */
export function startOfDay(at: number, zone: string): number {
  return Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone).startOfDay().epochMilliseconds;
}

/** The first instant of a local date such as `2026-03-04` (epoch ms); null when it is none. Never throws. */
export function startOfLocalDate(date: string, zone: string): number | null {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(date)) return null;
  try {
    return Temporal.PlainDate.from(date, { overflow: "reject" }).toZonedDateTime(zone).epochMilliseconds;
  } catch {
    return null;
  }
}

/** The last instant of the local day that `at` falls in (epoch ms, exclusive end). */
export function endOfDay(at: number, zone: string): number {
  return Temporal.Instant.fromEpochMilliseconds(at)
    .toZonedDateTimeISO(zone)
    .startOfDay()
    .add({ days: 1 })
    .startOfDay().epochMilliseconds;
}

/** The next instant after `at` whose wall time in `zone` is `HH:MM`. */
export function nextWallTime(at: number, zone: string, wall: string): number {
  const now = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone);
  const today = now.withPlainTime(Temporal.PlainTime.from(wall));
  return (Temporal.ZonedDateTime.compare(today, now) > 0 ? today : today.add({ days: 1 })).epochMilliseconds;
}
