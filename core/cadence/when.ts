import { Temporal } from "temporal-polyfill";
import { zonesOfPhone } from "../contact/area-zone.ts";
import type { Lead } from "../lead/lead.ts";
import type { TouchTime } from "../policy/cadence.ts";
import type { Setup } from "../policy/setup.ts";
import { type Hours, spansOn } from "../time/calendar.ts";

/** From what the moment of a touch is reckoned. Epoch ms. */
export interface Anchor {
  readonly start: number;
  /** When the touch before was done. */
  readonly before: number;
  /** The date the touch names, `2026-03-04` or `03-04` (every year); null when it is not known. */
  readonly date: string | null;
  readonly leadZone: string;
  readonly desk: Hours;
  /** Where in a span of time this lead has its place: 0 up to, but not including, 1. */
  readonly place: number;
  /** Milliseconds over which those who begin together are spread. */
  readonly spread: number;
}

/** Far more days than any desk stays closed. */
const MOST_ROLLED = 800;

/** Whether a written duration can be used: ISO 8601, at most ten years either way. */
export function isDuration(written: string): boolean {
  try {
    const d = Temporal.Duration.from(written);
    const days = Math.abs(d.years * 365 + d.months * 30 + d.weeks * 7 + d.days) + Math.abs(d.hours) / 24;
    return days <= 3660 && Number.isInteger(d.days) && d.seconds === 0;
  } catch {
    return false;
  }
}

/** About how long a written duration lasts (ms), months as 30 days: for comparing, never for dates. */
export function about(written: string): number {
  const d = Temporal.Duration.from(written);
  const days = d.years * 365 + d.months * 30 + d.weeks * 7 + d.days;
  return ((days * 24 + d.hours) * 60 + d.minutes) * 60_000;
}

/** Whether a touch may fall on that day. */
export function allows(time: TouchTime, desk: Hours, day: Temporal.PlainDate): boolean {
  if (time.days === "weekdays") return day.dayOfWeek <= 5;
  if (time.days === "desk") return spansOn(desk, day).length > 0;
  return true;
}

/** The first day from this one on that is allowed; this one where none is within two years. */
function roll(time: TouchTime, desk: Hours, day: Temporal.PlainDate): Temporal.PlainDate {
  let then = day;
  for (let i = 0; i < MOST_ROLLED; i++) {
    if (allows(time, desk, then)) return then;
    then = then.add({ days: 1 });
  }
  return day;
}

/** So many days on, counted as the touch counts them, and then on a day that is allowed. */
function daysOn(time: TouchTime, desk: Hours, from: Temporal.PlainDate, days: number): Temporal.PlainDate {
  if (time.count !== "allowed-days" || days <= 0) return roll(time, desk, from.add({ days }));
  let then = from;
  for (let left = days, i = 0; left > 0 && i < MOST_ROLLED * 2; i++) {
    then = then.add({ days: 1 });
    if (allows(time, desk, then)) left--;
  }
  return roll(time, desk, then);
}

const at = (day: Temporal.PlainDate, zone: string, wall: string) =>
  day.toZonedDateTime({ timeZone: zone, plainTime: Temporal.PlainTime.from(wall) }).epochMilliseconds;

const zoned = (ms: number, zone: string) =>
  Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone);

/** A moment of a day: its wall time, or where the lead's place lies in its window. */
function onDay(time: TouchTime, anchor: Anchor, day: Temporal.PlainDate, zone: string): number {
  const from = at(day, zone, time.at!);
  if (!time.until) return from + Math.floor(anchor.place * anchor.spread);
  const to = at(day, zone, time.until);
  return from + Math.floor(anchor.place * Math.max(0, to - from));
}

/**
 * When a touch falls due (epoch ms), no sooner than what it follows. Null when its date is not known, or is past for good.
 *
 * Days, weeks and months are of the calendar of the touch's zone; months clamp (31 January and a month is 28 February).
 * Minutes and hours are of the clock on the wall of nobody: an hour is an hour across a change of clocks. A wall time
 * that a change leaves out is an hour later; one that comes twice is the first.
 */
export function touchAt(time: TouchTime, anchor: Anchor): number | null {
  const zone = time.zone === "lead" ? anchor.leadZone : anchor.desk.zone;
  if (time.from === "field") return aroundDate(time, anchor, zone);
  const from = time.from === "start" ? anchor.start : anchor.before;
  const moment = since(time, anchor, from, zone);
  // What is past already when its turn comes is due at the next moment that is allowed.
  return moment >= anchor.before
    ? moment
    : since({ ...time, after: "PT0M", from: "before" }, anchor, anchor.before, zone);
}

function since(time: TouchTime, anchor: Anchor, from: number, zone: string): number {
  const duration = Temporal.Duration.from(time.after);
  const { days, weeks, months, years, hours, minutes } = duration;
  const start = zoned(from, zone);
  const inDays = days !== 0 || weeks !== 0 || months !== 0 || years !== 0;
  const shifted = start.add({ years, months, weeks });
  let day = inDays ? daysOn(time, anchor.desk, shifted.toPlainDate(), days) : start.toPlainDate();
  const spread = time.from === "start" ? Math.floor(anchor.place * anchor.spread) : 0;
  if (!time.at) {
    const plain = inDays
      ? day.toZonedDateTime({ timeZone: zone, plainTime: start.toPlainTime() }).epochMilliseconds
      : from;
    const moment = plain + (hours * 60 + minutes) * 60_000 + spread;
    return rolled(time, anchor, moment, zone);
  }
  // A wall time gone by already when it is reckoned from is that of the next day that is allowed.
  const earliest = inDays ? from : from + (hours * 60 + minutes) * 60_000;
  if (!inDays) day = roll(time, anchor.desk, zoned(earliest, zone).toPlainDate());
  if (time.until && !inDays && inWindow(time, earliest, zone) && allows(time, anchor.desk, day))
    return earliest;
  const end = (d: Temporal.PlainDate) => at(d, zone, time.at!);
  while (end(day) < earliest) day = roll(time, anchor.desk, day.add({ days: 1 }));
  return onDay(time, anchor, day, zone);
}

function inWindow(time: TouchTime, moment: number, zone: string): boolean {
  const wall = zoned(moment, zone).toPlainTime().toString({ smallestUnit: "minute" });
  return wall >= time.at! && wall < time.until!;
}

/**
 * A moment on a day that is not allowed is the same wall time of the next that is. What is a time of nobody's choosing on
 * the desk's days falls into its hours: people do it.
 */
function rolled(time: TouchTime, { desk }: Anchor, moment: number, zone: string): number {
  if (time.days === "desk") return opening(desk, moment);
  const local = zoned(moment, zone);
  const day = local.toPlainDate();
  const allowed = roll(time, desk, day);
  if (allowed.equals(day)) return moment;
  return allowed.toZonedDateTime({ timeZone: zone, plainTime: local.toPlainTime() }).epochMilliseconds;
}

/** The moment when the desk is open then, else its next opening; the moment itself where none comes within two years. */
function opening(desk: Hours, moment: number): number {
  let day = zoned(moment, desk.zone).toPlainDate();
  for (let i = 0; i < MOST_ROLLED; i++) {
    for (const [open, close] of [...spansOn(desk, day)].sort(([a], [b]) => a.localeCompare(b))) {
      const end =
        close === "24:00" ? at(day.add({ days: 1 }), desk.zone, "00:00") : at(day, desk.zone, close);
      if (moment < end) return Math.max(moment, at(day, desk.zone, open));
    }
    day = day.add({ days: 1 });
  }
  return moment;
}

/** Around a date: on its day, or so long before or after it; of a yearly one the first that is still to come. */
function aroundDate(time: TouchTime, anchor: Anchor, zone: string): number | null {
  if (!anchor.date) return null;
  const parts = anchor.date.split("-").map(Number);
  const [month, day] = parts.slice(-2) as [number, number];
  const first = parts.length === 3 ? parts[0]! : null;
  const today = zoned(anchor.before, zone).toPlainDate();
  const yearly = time.yearly || first === null;
  const { years, months, weeks, days } = Temporal.Duration.from(time.after);
  const wall = { ...time, at: time.at ?? "09:00" };
  const of = (year: number) => {
    const date = Temporal.PlainDate.from({ year, month, day }, { overflow: "constrain" });
    return onDay(wall, anchor, daysOn(time, anchor.desk, date.add({ years, months, weeks }), days), zone);
  };
  if (!yearly) {
    const only = of(first!);
    return only < anchor.before ? null : only;
  }
  for (let year = Math.max(today.year - 1, first ?? 0); year <= today.year + 9; year++) {
    const then = of(year);
    if (then > anchor.before) return then;
  }
  return null;
}

/** When a touch may go at the earliest from `now` on, wherever it stood: its wall time, window and days still hold. */
export function noSooner(time: TouchTime, anchor: Anchor, now: number): number {
  return touchAt({ ...time, after: "PT0M", from: "before" }, { ...anchor, before: now }) ?? now;
}

/** The zone of a lead's place: as known, else by its number, else the desk's. */
export function zoneOfLead(lead: Lead, setup: Setup): string {
  return (
    lead.facts.zone ??
    (lead.phones[0] ? zonesOfPhone(lead.phones[0])[0] : undefined) ??
    setup.policies.desk.zone
  );
}

/**
 * Where a lead has its place among those that begin together, from 0 up to 1: always the same for one lead and cadence,
 * and even over many. FNV-1a with the finalizer of MurmurHash3, both in the public domain.
 */
export function placeOfLead(leadId: string, cadenceId: string): number {
  let h = 0x811c9dc5;
  for (const c of `${leadId}\n${cadenceId}`) h = Math.imul(h ^ c.charCodeAt(0), 0x01000193);
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return ((h ^ (h >>> 16)) >>> 0) / 2 ** 32;
}
