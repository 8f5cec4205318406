import fc from "fast-check";
import { DateTime, IANAZone } from "luxon";
import { describe, expect, it } from "vitest";
import type { TouchTime } from "../policy/cadence.ts";
import type { Hours } from "../time/calendar.ts";
import { type Anchor, isDuration, noSooner, placeOfLead, touchAt } from "./when.ts";

const DENVER = "America/Denver";
const desk = (zone = DENVER, exceptions: Hours["exceptions"] = {}): Hours => ({
  zone,
  week: {
    1: [["08:00", "18:00"]],
    2: [["08:00", "18:00"]],
    3: [["08:00", "18:00"]],
    4: [["08:00", "18:00"]],
    5: [["08:00", "18:00"]],
    6: [["09:00", "13:00"]],
  },
  exceptions,
});
const at = (iso: string, zone = DENVER) => DateTime.fromISO(iso, { zone }).toMillis();
const anchor = (start: number, more: Partial<Anchor> = {}): Anchor => ({
  start,
  before: start,
  date: null,
  leadZone: "America/New_York",
  desk: desk(),
  place: 0,
  spread: 0,
  ...more,
});
const time = (after: string, more: Partial<TouchTime> = {}): TouchTime => ({ after, from: "start", ...more });
const said = (ms: number | null, zone = DENVER) =>
  ms && DateTime.fromMillis(ms, { zone }).toFormat("yyyy-MM-dd HH:mm");

describe("when a touch falls due", () => {
  // Common practice: four days after Wednesday 17 February 2021, off the weekend.
  it("counts all days and rolls forward, or only the days that are allowed", () => {
    const wednesday = anchor(at("2021-02-17T10:00"));
    const four = (count: "all-days" | "allowed-days") =>
      said(touchAt(time("P4D", { days: "weekdays", count }), wednesday));
    expect(four("all-days")).toBe("2021-02-22 10:00");
    expect(four("allowed-days")).toBe("2021-02-23 10:00");
  });
  it("clamps months, and keeps the wall time across a change of clocks", () => {
    expect(said(touchAt(time("P1M"), anchor(at("2026-01-31T10:00"))))).toBe("2026-02-28 10:00");
    expect(said(touchAt(time("P1M"), anchor(at("2028-01-31T10:00"))))).toBe("2028-02-29 10:00");
    expect(said(touchAt(time("P1D"), anchor(at("2026-03-07T10:00"))))).toBe("2026-03-08 10:00");
    // An hour is an hour all the same.
    expect(said(touchAt(time("PT24H"), anchor(at("2026-03-07T10:00"))))).toBe("2026-03-08 11:00");
  });
  it("takes wall times at the lead’s place or the desk’s, an hour that clocks leave out an hour later", () => {
    const start = anchor(at("2026-03-05T15:00"));
    expect(said(touchAt(time("P1D", { at: "09:00" }), start))).toBe("2026-03-06 09:00");
    expect(said(touchAt(time("P1D", { at: "09:00", zone: "lead" }), start))).toBe("2026-03-06 07:00");
    expect(said(touchAt(time("P3D", { at: "02:30" }), start))).toBe("2026-03-08 03:30");
    // Gone by already: the next day.
    expect(said(touchAt(time("PT0M", { at: "09:00" }), start))).toBe("2026-03-06 09:00");
    expect(said(touchAt(time("PT0M", { at: "16:00" }), start))).toBe("2026-03-05 16:00");
  });
  it("keeps to holidays and to the desk’s hours where people work", () => {
    const closed = desk(DENVER, { "2026-03-09": { name: "Closed", spans: [] } });
    const friday = anchor(at("2026-03-06T16:00"), { desk: closed });
    expect(said(touchAt(time("PT3H", { days: "desk" }), friday))).toBe("2026-03-07 09:00");
    expect(said(touchAt(time("P2D", { days: "desk", at: "10:00" }), friday))).toBe("2026-03-10 10:00");
  });
  it("lies in a window by the lead’s own place in it", () => {
    const window = time("P1D", { at: "09:00", until: "11:00" });
    const of = (place: number) => said(touchAt(window, anchor(at("2026-03-04T12:00"), { place })));
    expect([of(0), of(0.25), of(0.999)]).toEqual([
      "2026-03-05 09:00",
      "2026-03-05 09:30",
      "2026-03-05 10:59",
    ]);
  });
  it("turns around a date, before and after, every year, with 29 February said", () => {
    const start = anchor(at("2026-03-04T12:00"), { date: "1980-04-10" });
    const around = (after: string, more: Partial<TouchTime> = {}, from = start) =>
      said(touchAt(time(after, { from: "field", field: "own.born", yearly: true, ...more }), from));
    expect(around("-P7D")).toBe("2026-04-03 09:00");
    expect(around("P1D", { at: "11:00" })).toBe("2026-04-11 11:00");
    expect(around("P0D", {}, { ...start, date: "03-01" })).toBe("2027-03-01 09:00");
    const leap = { ...start, date: "02-29" };
    expect(around("P0D", {}, leap)).toBe("2027-02-28 09:00");
    expect(around("P0D", {}, { ...leap, before: at("2027-06-01T12:00") })).toBe("2028-02-29 09:00");
    expect(around("P0D", {}, { ...start, date: null })).toBeNull();
    expect(around("P0D", { yearly: false })).toBeNull();
  });
  it("durations are ISO 8601 and within ten years", () => {
    expect(["PT5M", "P1D", "P2W", "P1M", "-P7D", "PT0M"].filter(isDuration)).toHaveLength(6);
    expect(["", "5m", "P", "P20Y", "P1.5D", "PT5S", "soon"].filter(isDuration)).toEqual([]);
  });
});

/** Zones with and without changes, on half hours, in both halves of the world. */
const ZONES = [
  "America/New_York",
  "America/Denver",
  "America/Phoenix",
  "America/St_Johns",
  "Europe/London",
  "Asia/Kolkata",
  "Australia/Lord_Howe",
  "Pacific/Auckland",
  "America/Sao_Paulo",
  "UTC",
];

describe.each(ZONES)("against luxon and a walk day by day, in %s", (zone) => {
  const hours = desk(zone, {
    "2026-07-03": { name: "Holiday", spans: [] },
    "2026-12-25": { name: "Holiday", spans: [] },
  });
  const allowed = (days: TouchTime["days"], day: DateTime) =>
    days === "weekdays"
      ? day.weekday <= 5
      : days === "desk"
        ? day.weekday <= 6 && !["2026-07-03", "2026-12-25"].includes(day.toISODate()!)
        : true;
  const start = fc.integer({ min: at("2026-01-01T00:00", zone), max: at("2027-12-31T00:00", zone) });
  const days = fc.constantFrom("any" as const, "weekdays" as const, "desk" as const);
  const wall = fc
    .integer({ min: 0, max: 24 * 60 - 1 })
    .map((m) => `${String(Math.floor(m / 60)).padStart(2, "0")}:${String(m % 60).padStart(2, "0")}`);
  it("knows the zone", () => expect(IANAZone.isValidZone(zone)).toBe(true));
  it("days, weeks and months with a wall time", () => {
    fc.assert(
      fc.property(
        start,
        fc.record({ months: fc.nat(14), weeks: fc.nat(6), days: fc.integer({ min: 1, max: 60 }) }),
        days,
        fc.boolean(),
        wall,
        (from, span, on, counted, hhmm) => {
          const after = `P${span.months}M${span.weeks}W${span.days}D`;
          const count = counted ? "allowed-days" : "all-days";
          const found = touchAt(
            time(after, { at: hhmm, days: on, count }),
            anchor(from, { desk: hours, leadZone: zone }),
          )!;
          let day = DateTime.fromMillis(from, { zone })
            .plus({ months: span.months, weeks: span.weeks })
            .startOf("day");
          if (counted)
            for (let left = span.days; left > 0; ) {
              day = day.plus({ days: 1 });
              if (allowed(on, day)) left--;
            }
          else day = day.plus({ days: span.days });
          while (!allowed(on, day)) day = day.plus({ days: 1 });
          const got = DateTime.fromMillis(found, { zone });
          expect(got.toISODate()).toBe(day.toISODate());
          const wanted = day.set({ hour: Number(hhmm.slice(0, 2)), minute: Number(hhmm.slice(3)) });
          // Of a wall time that comes twice or not at all two readings are right; luxon may take the other.
          if (wanted.toFormat("HH:mm") === hhmm && wanted.getPossibleOffsets().length === 1)
            expect(found).toBe(wanted.toMillis());
        },
      ),
      { numRuns: 150 },
    );
  });
  it("is never before what it follows, and never before its time", () => {
    fc.assert(
      fc.property(
        start,
        fc.nat(500_000),
        fc.nat(80_000),
        days,
        fc.option(wall, { nil: undefined }),
        (from, minutes, later, on, hhmm) => {
          const before = from + later * 60_000;
          const touch = time(`PT${minutes}M`, { days: on, ...(hhmm && { at: hhmm }) });
          const found = touchAt(touch, anchor(from, { before, desk: hours, leadZone: zone }))!;
          expect(found).toBeGreaterThanOrEqual(before);
          expect(found).toBeGreaterThanOrEqual(Math.max(from + minutes * 60_000, before));
          expect(noSooner(touch, anchor(from, { before, desk: hours }), found)).toBeGreaterThanOrEqual(found);
        },
      ),
      { numRuns: 150 },
    );
  });
});

describe("the place of a lead among those that begin together", () => {
  it("is always the same, and even over many: Kolmogorov–Smirnov at 5 %", () => {
    // Critical value 1.36/√n (Massey 1951).
    const n = 10_000;
    const places = Array.from({ length: n }, (_, i) =>
      placeOfLead(`lead_0mpy70jwd0${i.toString(36).padStart(6, "0")}`, "cad_x"),
    ).sort((a, b) => a - b);
    const distance = Math.max(
      ...places.map((p, i) => Math.max(Math.abs((i + 1) / n - p), Math.abs(p - i / n))),
    );
    expect(distance).toBeLessThan(1.36 / Math.sqrt(n));
    expect(placeOfLead("lead_a", "cad_x")).toBe(placeOfLead("lead_a", "cad_x"));
    expect(placeOfLead("lead_a", "cad_x")).not.toBe(placeOfLead("lead_a", "cad_y"));
  });
});
