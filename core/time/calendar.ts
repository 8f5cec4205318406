import { Temporal } from "temporal-polyfill";

/** ISO weekday: 1 Monday … 7 Sunday. */
export type Weekday = 1 | 2 | 3 | 4 | 5 | 6 | 7;
/** Opening and closing wall time of one span, `HH:MM`; `24:00` closes at midnight. */
export type DaySpan = readonly [open: string, close: string];

/** When somebody (the desk, a person) is there: a weekly pattern in an IANA zone, and dates that differ from it. */
export interface Hours {
  readonly zone: string;
  readonly week: Partial<Record<Weekday, readonly DaySpan[]>>;
  /** ISO date → what is open that day instead of the weekly pattern; an empty list is a closed day. */
  readonly exceptions?: Readonly<Record<string, Exception>>;
}

/** A date with hours of its own. */
export interface Exception {
  readonly name: string;
  readonly spans: readonly DaySpan[];
  /** It was closed early: what it was before, or null for an ordinary day of the week. */
  readonly instead?: { readonly name: string; readonly spans: readonly DaySpan[] } | null;
}

/**
 * Hours compiled to sorted, disjoint open spans in epoch milliseconds, with the open time before each
 * span, so that every question below is one binary search. Covers `[from, to)` and nothing else.
 */
export interface Calendar {
  readonly zone: string;
  readonly from: number;
  readonly to: number;
  readonly starts: Float64Array;
  readonly ends: Float64Array;
  /** Open milliseconds between `from` and the start of the span. */
  readonly before: Float64Array;
}

const DAY = 86_400_000;
const MINUTE = 60_000;

/**
 * Compile `hours` for the time between two instants (epoch ms). Days are whole days of the hours' own zone.
 * Between two changes of the zone's clock days are plain arithmetic, which is all but a few of them: asking Temporal for each
 * took most of a desk's start.
 */
export function compileCalendar(hours: Hours, from: number, to: number): Calendar {
  const spans: [number, number][] = [];
  const { zone } = hours;
  let day = Temporal.Instant.fromEpochMilliseconds(from).toZonedDateTimeISO(zone).startOfDay();
  while (day.epochMilliseconds < to) {
    const change = day.getTimeZoneTransition("next")?.epochMilliseconds ?? Number.POSITIVE_INFINITY;
    let at = day.epochMilliseconds;
    if (day.hour === 0 && day.minute === 0) {
      let date = day.toPlainDate();
      // The day that a change ends may be a longer one.
      for (; at < to && at + DAY < change; at += DAY) {
        for (const [open, close] of spansOn(hours, date))
          spans.push([at + minutesOf(open) * MINUTE, at + minutesOf(close) * MINUTE]);
        date = date.add({ days: 1 });
      }
      day = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone);
      if (at >= to) break;
    }
    const next = day.add({ days: 1 }).startOfDay();
    for (const [open, close] of spansOn(hours, day.toPlainDate()))
      spans.push([wallToEpoch(day, next, open), wallToEpoch(day, next, close)]);
    day = next;
  }
  const inside = spans.map(([a, b]): [number, number] => [Math.max(a, from), Math.min(b, to)]);
  const merged = merge(inside.filter(([a, b]) => b > a));
  const starts = new Float64Array(merged.length);
  const ends = new Float64Array(merged.length);
  const before = new Float64Array(merged.length);
  let open = 0;
  merged.forEach(([a, b], i) => {
    starts[i] = a;
    ends[i] = b;
    before[i] = open;
    open += b - a;
  });
  return { zone: hours.zone, from, to, starts, ends, before };
}

/** Minutes since midnight of a wall time. */
function minutesOf(wall: string): number {
  const [h = 0, m = 0] = wall.split(":").map(Number);
  return h * 60 + m;
}

/** What is open on a local date (ISO when it is a text), by the day's own exception or else by its weekday. */
export function spansOn(hours: Hours, date: Temporal.PlainDate | string): readonly DaySpan[] {
  const day = Temporal.PlainDate.from(date);
  return hours.exceptions?.[day.toString()]?.spans ?? hours.week[day.dayOfWeek as Weekday] ?? [];
}

/** A wall time on a day on which the zone's clock changes. */
function wallToEpoch(day: Temporal.ZonedDateTime, next: Temporal.ZonedDateTime, wall: string): number {
  const minutes = minutesOf(wall);
  if (minutes >= 24 * 60) return next.epochMilliseconds;
  return day.withPlainTime({ hour: Math.floor(minutes / 60), minute: minutes % 60 }).epochMilliseconds;
}

function merge(spans: [number, number][]): [number, number][] {
  spans.sort((a, b) => a[0] - b[0]);
  const out: [number, number][] = [];
  for (const span of spans) {
    const last = out.at(-1);
    if (last && span[0] <= last[1]) last[1] = Math.max(last[1], span[1]);
    else out.push([span[0], span[1]]);
  }
  return out;
}

/** Index of the last span that starts at or before `at`, or −1. */
function spanAt(starts: Float64Array, at: number): number {
  let low = 0;
  let high = starts.length;
  while (low < high) {
    const mid = (low + high) >>> 1;
    if (starts[mid]! <= at) low = mid + 1;
    else high = mid;
  }
  return low - 1;
}

function guard(calendar: Calendar, at: number): void {
  if (at < calendar.from || at > calendar.to)
    throw new RangeError(`The calendar covers ${calendar.from}…${calendar.to}; asked about ${at}.`);
}

/** Open milliseconds between the calendar's beginning and `at`. */
function openBefore(calendar: Calendar, at: number): number {
  guard(calendar, at);
  const i = spanAt(calendar.starts, at);
  if (i < 0) return 0;
  return calendar.before[i]! + Math.min(at, calendar.ends[i]!) - calendar.starts[i]!;
}

/** Open milliseconds between two instants; negative when `b` lies before `a`. */
export function openBetween(calendar: Calendar, a: number, b: number): number {
  return openBefore(calendar, b) - openBefore(calendar, a);
}

/**
 * The instant at which `ms` of open time have passed since `at`. With `ms = 0` it is `at` itself when
 * open, else the next opening.
 * @throws RangeError when the calendar ends before so much open time has passed.
 */
export function addOpen(calendar: Calendar, at: number, ms: number): number {
  const goal = openBefore(calendar, at) + ms;
  const { starts, ends, before } = calendar;
  // The first span whose end carries the goal (for ms = 0: which is still open at `at`).
  let low = 0;
  let high = starts.length;
  while (low < high) {
    const mid = (low + high) >>> 1;
    const total = before[mid]! + ends[mid]! - starts[mid]!;
    const enough = ms > 0 ? total >= goal : ends[mid]! > at;
    if (enough) high = mid;
    else low = mid + 1;
  }
  if (low >= starts.length) throw new RangeError(`The calendar is closed from ${at} on until it ends.`);
  return Math.max(starts[low]! + goal - before[low]!, ms > 0 ? 0 : Math.max(at, starts[low]!));
}

/** Whether the instant lies inside an open span (the closing instant itself does not). */
export function isOpen(calendar: Calendar, at: number): boolean {
  guard(calendar, at);
  const i = spanAt(calendar.starts, at);
  return i >= 0 && at < calendar.ends[i]!;
}

/** `at` when open, else the start of the next open span; null when none follows inside the calendar. */
export function nextOpening(calendar: Calendar, at: number): number | null {
  guard(calendar, at);
  const i = spanAt(calendar.starts, at);
  if (i >= 0 && at < calendar.ends[i]!) return at;
  return calendar.starts[i + 1] ?? null;
}

/** The last stretch of open time that had ended by then; null when the calendar knows none. */
export function openSpanBefore(calendar: Calendar, at: number): { from: number; to: number } | null {
  const i = calendar.ends.findLastIndex((end) => end <= at);
  return i < 0 ? null : { from: calendar.starts[i]!, to: calendar.ends[i]! };
}

/** When the span that is open at `at` closes; null when closed then. */
export function closingAfter(calendar: Calendar, at: number): number | null {
  const i = spanAt(calendar.starts, at);
  return i >= 0 && at < calendar.ends[i]! ? calendar.ends[i]! : null;
}
