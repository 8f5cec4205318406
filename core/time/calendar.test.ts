import Holidays from "date-holidays";
import fc from "fast-check";
import { DateTime } from "luxon";
import { describe, expect, it } from "vitest";
import {
  addOpen,
  type Calendar,
  compileCalendar,
  type DaySpan,
  type Hours,
  isOpen,
  nextOpening,
  openBetween,
  type Weekday,
} from "./calendar.ts";

const week: Hours["week"] = {
  1: [["08:00", "18:00"]],
  2: [["08:00", "18:00"]],
  3: [["08:00", "18:00"]],
  4: [["08:00", "18:00"]],
  5: [["08:00", "18:00"]],
  6: [["09:00", "13:00"]],
};
const at = (iso: string) => DateTime.fromISO(iso, { setZone: true }).toMillis();
const iso = (ms: number, zone: string) =>
  DateTime.fromMillis(ms, { zone }).toISO({ suppressMilliseconds: true });
const denver = compileCalendar(
  {
    zone: "America/Denver",
    week,
    exceptions: { "2026-07-03": { name: "Independence Day (observed)", spans: [] } },
  },
  at("2026-01-01T00:00:00-07:00"),
  at("2027-01-01T00:00:00-07:00"),
);

describe("desk hours", () => {
  it("carries five minutes from 17:58 over the night to 8:03", () => {
    expect(iso(addOpen(denver, at("2026-03-04T17:58:00-07:00"), 300_000), "America/Denver")).toBe(
      "2026-03-05T08:03:00-07:00",
    );
  });
  it("starts a Sunday inquiry at the Monday opening, one hour earlier in UTC after the clocks change", () => {
    expect(iso(addOpen(denver, at("2026-03-08T12:00:00-06:00"), 300_000), "America/Denver")).toBe(
      "2026-03-09T08:05:00-06:00",
    );
  });
  // 5 U.S.C. 6103: Independence Day 2026 is a Saturday, observed on Friday 3 July.
  it("skips the observed holiday that date-holidays names", () => {
    const observed = new Holidays("US")
      .getHolidays(2026)
      .filter((h) => h.name.startsWith("Independence Day"));
    expect(observed.some((h) => h.date.startsWith("2026-07-03"))).toBe(true);
    expect(iso(addOpen(denver, at("2026-07-02T17:59:00-06:00"), 120_000), "America/Denver")).toBe(
      "2026-07-04T09:01:00-06:00",
    );
  });
  it("says when it opens next, and is closed at the closing instant", () => {
    expect(isOpen(denver, at("2026-03-04T18:00:00-07:00"))).toBe(false);
    expect(isOpen(denver, at("2026-03-04T17:59:59-07:00"))).toBe(true);
    expect(iso(nextOpening(denver, at("2026-03-07T13:00:00-07:00"))!, "America/Denver")).toBe(
      "2026-03-09T08:00:00-06:00",
    );
  });
  it("refuses a question outside what was compiled", () => {
    expect(() => openBetween(denver, 0, at("2026-03-04T12:00:00-07:00"))).toThrow(RangeError);
  });
});

/* IANA zone facts beside luxon, which does not share code with the Temporal polyfill. */
const zones = [
  ["America/New_York", "2026-03-06"],
  ["America/New_York", "2026-10-30"],
  ["Europe/London", "2026-03-27"],
  ["Europe/London", "2026-10-23"],
  ["America/Phoenix", "2026-03-06"],
  ["America/St_Johns", "2026-03-06"],
  ["Asia/Kolkata", "2026-03-06"],
  ["Australia/Lord_Howe", "2026-04-03"],
  ["America/Denver", "2026-03-06"],
  ["America/Halifax", "2026-10-30"],
  // Where midnight itself is skipped or comes twice, and a date that never was (30 December 2011).
  ["America/Havana", "2026-03-06"],
  ["America/Havana", "2026-10-30"],
  ["Atlantic/Azores", "2026-03-27"],
  ["Asia/Beirut", "2026-03-27"],
  ["Africa/Cairo", "2026-10-28"],
  ["America/Sao_Paulo", "2018-11-02"],
  ["Pacific/Apia", "2011-12-28"],
] as const;
const roundTheClock: Hours["week"] = Object.fromEntries(
  [1, 2, 3, 4, 5, 6, 7].map((d) => [d, [["00:00", "24:00"]] as DaySpan[]]),
) as Hours["week"];

/** The open minutes of a stretch, counted one by one with luxon's own idea of local time. */
function bruteMinutes(hours: Hours, from: number, to: number): boolean[] {
  const out: boolean[] = [];
  for (let t = from; t < to; t += 60_000) {
    const local = DateTime.fromMillis(t, { zone: hours.zone });
    const spans = hours.week[local.weekday as Weekday] ?? [];
    const wall = local.toFormat("HH:mm");
    out.push(spans.some(([a, b]) => wall >= a && wall < b));
  }
  return out;
}

describe("against a minute-by-minute count with luxon", () => {
  it.each(zones)("%s from %s", (zone, date) => {
    const from = DateTime.fromISO(date, { zone }).startOf("day").toMillis();
    const to = from + 6 * 86_400_000;
    // Spans that a clock change does not cut in the middle: what a wall time inside the gap means is a choice, not a fact.
    const hours: Hours = {
      zone,
      week: {
        ...week,
        7: [
          ["04:00", "09:30"],
          ["11:00", "12:15"],
        ],
      },
    };
    const calendar = compileCalendar(hours, from, to + 30 * 86_400_000);
    const open = bruteMinutes(hours, from, to);
    let total = 0;
    open.forEach((o, i) => {
      const t = from + i * 60_000;
      if (isOpen(calendar, t) !== o) throw new Error(`${iso(t, zone)} should be ${o ? "open" : "closed"}`);
      if (o) total += 60_000;
    });
    expect(openBetween(calendar, from, to)).toBe(total);
  });
  it.each(zones)("%s: a desk that never closes counts every real minute across the change", (zone, date) => {
    const from = DateTime.fromISO(date, { zone }).startOf("day").toMillis();
    const to = DateTime.fromISO(date, { zone }).startOf("day").plus({ days: 5 }).toMillis();
    expect(openBetween(compileCalendar({ zone, week: roundTheClock }, from, to), from, to)).toBe(to - from);
  });
});

/** The instant after so many open minutes, walked minute by minute with luxon's own idea of local time. */
function bruteAdd(hours: Hours, from: number, minutes: number): number {
  let left = minutes;
  for (let t = from; ; t += 60_000) {
    const local = DateTime.fromMillis(t, { zone: hours.zone });
    const spans = hours.exceptions?.[local.toISODate()!]?.spans ?? hours.week[local.weekday as Weekday] ?? [];
    const wall = local.toFormat("HH:mm");
    if (!spans.some(([a, b]) => wall >= a && wall < b)) continue;
    if (left === 0) return t;
    left--;
    if (left === 0) return t + 60_000;
  }
}

describe("holidays, half days and closings entered afterwards, against a walk with luxon", () => {
  const day = fc.integer({ min: 0, max: 6 });
  const part = fc.constantFrom<readonly DaySpan[]>([], [["08:00", "12:00"]], [["10:00", "16:30"]]);
  it.each(zones)("%s from %s", (zone, date) => {
    const start = DateTime.fromISO(date, { zone }).startOf("day");
    fc.assert(
      fc.property(
        fc.array(fc.tuple(day, part), { maxLength: 3 }),
        fc.tuple(day, fc.integer({ min: 8, max: 17 })),
        fc.integer({ min: 0, max: 5 * 1440 }),
        fc.integer({ min: 1, max: 900 }),
        (days, [closedDay, closedHour], after, minutes) => {
          const isoOf = (d: number) => start.plus({ days: d }).toISODate()!;
          const exceptions = Object.fromEntries(days.map(([d, spans]) => [isoOf(d), { name: "Day", spans }]));
          const planned: Hours = { zone, week, exceptions };
          // Closed from an hour on, after the question was first asked.
          const hour = `${String(closedHour).padStart(2, "0")}:00`;
          const spans = (
            exceptions[isoOf(closedDay)]?.spans ??
            week[start.plus({ days: closedDay }).weekday as Weekday] ??
            []
          )
            .filter(([open]) => open < hour)
            .map(([open, close]): DaySpan => [open, close < hour ? close : hour]);
          const closed: Hours = {
            ...planned,
            exceptions: { ...exceptions, [isoOf(closedDay)]: { name: "Snow", spans } },
          };
          const from = start.toMillis() + after * 60_000;
          for (const hours of [planned, closed]) {
            const calendar = compileCalendar(hours, start.toMillis(), start.plus({ days: 40 }).toMillis());
            expect(addOpen(calendar, from, minutes * 60_000)).toBe(bruteAdd(hours, from, minutes));
          }
        },
      ),
      { numRuns: 6 },
    );
  });
});

describe("properties", () => {
  const span = denver.to - denver.from;
  const instant = fc.integer({ min: 0, max: Math.floor(span / 2) }).map((d) => denver.from + d);
  const length = fc.integer({ min: 1, max: 40 * 3_600_000 });
  it("adding open time and measuring it again gives the same", () => {
    fc.assert(fc.property(instant, length, (t, ms) => openBetween(denver, t, addOpen(denver, t, ms)) === ms));
  });
  it("adding in two parts is adding at once", () => {
    fc.assert(
      fc.property(
        instant,
        length,
        length,
        (t, a, b) => addOpen(denver, addOpen(denver, t, a), b) === addOpen(denver, t, a + b),
      ),
    );
  });
  it("adding nothing lands on the next opening", () => {
    fc.assert(fc.property(instant, (t) => addOpen(denver, t, 0) === nextOpening(denver, t)));
  });
  it("overlapping spans count once", () => {
    const twice: Calendar = compileCalendar(
      {
        zone: "America/Denver",
        week: {
          1: [
            ["08:00", "12:00"],
            ["10:00", "14:00"],
          ],
        },
      },
      at("2026-03-02T00:00:00-07:00"),
      at("2026-03-03T00:00:00-07:00"),
    );
    expect(openBetween(twice, twice.from, twice.to)).toBe(6 * 3_600_000);
  });
});
