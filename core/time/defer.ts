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

/** A local day (epoch ms, end exclusive). */
interface LocalDay {
  readonly day: number;
  readonly end: number;
}

/** A local day, and the one it is put off to. */
interface PutOff extends LocalDay {
  readonly to: number;
  /** Both are ordinary days of 24 hours: the time of day is the same distance from their beginning. */
  readonly plain: boolean;
}

const DAY = 86_400_000;
/** What was put off last, by zone and deferral: the same for the whole of a local day. So many are remembered. */
const remembered = new Map<string, PutOff>();
const MOST_REMEMBERED = 500;

/** The local day asked about last in each zone: most questions one after the other are about the same one. */
const lastDays = new Map<string, LocalDay>();

function dayAt(at: number, zone: string): LocalDay {
  const last = lastDays.get(zone);
  if (last && at >= last.day && at < last.end) return last;
  const day = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone).startOfDay();
  const end = day.add({ days: 1 }).startOfDay();
  const found = { day: day.epochMilliseconds, end: end.epochMilliseconds };
  if (lastDays.size >= MOST_REMEMBERED) lastDays.clear();
  lastDays.set(zone, found);
  return found;
}

function putOff(from: number, zone: string, { days, skipWeekend = false }: Deferral): PutOff {
  const key = `${zone} ${days} ${skipWeekend}`;
  const last = remembered.get(key);
  if (last && from >= last.day && from < last.end) return last;
  const { day, end } = dayAt(from, zone);
  let to = Temporal.Instant.fromEpochMilliseconds(day).toZonedDateTimeISO(zone).add({ days });
  if (skipWeekend) while (to.dayOfWeek > 5) to = to.add({ days: 1 });
  const target = to.startOfDay();
  const length = target.add({ days: 1 }).startOfDay().epochMilliseconds - target.epochMilliseconds;
  const answer = {
    day,
    end,
    to: target.epochMilliseconds,
    plain: end - day === DAY && length === DAY,
  };
  if (remembered.size >= MOST_REMEMBERED) remembered.clear();
  remembered.set(key, answer);
  return answer;
}

/**
 * `days` calendar days after `from` in `zone`, rolled forward off a weekend when asked. Common practice:
 * calendar days are counted and the result is rolled, so four days after Wednesday 17 Feb 2021 is
 * Monday 22 Feb (counting only working days would be another rule).
 */
export function inDays(from: number, zone: string, how: Deferral): number {
  const { day, to, plain } = putOff(from, zone, how);
  if (plain) return to + (how.at ? wallMs(how.at) : from - day);
  const start = Temporal.Instant.fromEpochMilliseconds(from).toZonedDateTimeISO(zone);
  const time = how.at ? Temporal.PlainTime.from(how.at) : start.toPlainTime();
  return Temporal.Instant.fromEpochMilliseconds(to).toZonedDateTimeISO(zone).withPlainTime(time)
    .epochMilliseconds;
}

/** From midnight to a wall time `HH:MM` on a day of 24 hours (ms). */
const wallMs = (at: string): number => {
  const { hour, minute, second, millisecond } = Temporal.PlainTime.from(at);
  return ((hour * 60 + minute) * 60 + second) * 1000 + millisecond;
};

/** Like {@link inDays}, then moved to the desk's next opening when it is closed at that time. */
export function inDaysWhenOpen(from: number, calendar: Calendar, how: Deferral): number {
  const { zone } = calendar;
  let then = inDays(from, zone, how);
  // An opening found on a weekend the caller wants skipped is put off again, a day at a time.
  for (let i = 0; i < 10; i++) {
    const open = nextOpening(calendar, then) ?? then;
    if (!how.skipWeekend) return open;
    // Put off by no day, a day of the week is itself, and a weekend is the Monday after.
    const { day, to } = putOff(open, zone, { days: 0, skipWeekend: true });
    if (day === to) return open;
    then = inDays(open, zone, { days: 1, skipWeekend: true, at: "00:00" });
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
  return dayAt(at, zone).day;
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
  return dayAt(at, zone).end;
}

/** The next instant after `at` whose wall time in `zone` is `HH:MM`. */
export function nextWallTime(at: number, zone: string, wall: string): number {
  const now = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone);
  const today = now.withPlainTime(Temporal.PlainTime.from(wall));
  return (Temporal.ZonedDateTime.compare(today, now) > 0 ? today : today.add({ days: 1 })).epochMilliseconds;
}
