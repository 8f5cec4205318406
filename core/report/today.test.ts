import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Bell } from "../lead/lead.ts";
import { endOfDay, startOfLocalDate } from "../time/defer.ts";
import { dateBeside, localDate } from "../time/words.ts";
import { type DayEvent, hourOf, tellDay, usualByHour } from "./today.ts";

const ZONE = "America/Denver";
const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const event = (kind: string, at: number, data: object = {}, leadId = "l1") =>
  ({ kind, at, data, leadId, actor: { kind: "desk" } }) as unknown as DayEvent;
const tried = (at: number, personId: string, reached: boolean, leadId = "l1") =>
  event("tried", at, { personId, reached }, leadId);
const NOON = Date.parse("2026-03-04T19:00:00Z");

describe("a day", () => {
  it("counts what came in by the hour of the desk’s clock", () => {
    const day = tellDay(
      [event("inquiry", NOON), event("inquiry", NOON + 59 * 60_000), event("inquiry", NOON + HOUR)],
      [],
      { zone: ZONE, now: NOON + DAY },
    );
    expect([day.cameIn, day.byHour[12], day.byHour[13]]).toEqual([3, 2, 1]);
    expect(day.byHour.reduce((a, b) => a + b)).toBe(3);
  });

  it("counts tries one by one, and people who were talked with once, whoever talked and however often", () => {
    const { tries, reached, people } = tellDay(
      [
        tried(NOON, "p_a", false),
        tried(NOON, "p_a", true),
        tried(NOON, "p_b", true),
        tried(NOON, "p_b", true, "l2"),
        event("called-in", NOON, { result: "answered", personId: "p_b" }, "l3"),
        event("called-in", NOON, { result: "missed", personId: null }, "l4"),
        event("taken", NOON, { personId: "p_b" }, "l2"),
        event("rang", NOON, {}, "l5"),
        event("rang", NOON + 1, {}, "l5"),
        event("lapsed", NOON),
      ],
      [],
      { zone: ZONE, now: NOON },
    );
    expect([tries, reached]).toEqual([4, 3]);
    expect(people.get("p_a")).toEqual({ tries: 2, reached: 1, taken: 0 });
    expect(people.get("p_b")).toEqual({ tries: 2, reached: 3, taken: 1 });
  });

  it("judges a target once it is due or answered, and none that somebody silenced", () => {
    const bell = (more: Partial<Bell>): Bell =>
      ({ state: "waiting", dueAt: NOON, answeredAt: null, excusedAt: null, ...more }) as Bell;
    const { targets, inTarget } = tellDay(
      [],
      [
        bell({ state: "answered", answeredAt: NOON - 1 }),
        bell({ state: "answered", answeredAt: NOON }),
        bell({ state: "answered", answeredAt: NOON + 1 }),
        bell({ state: "rung" }),
        bell({ dueAt: NOON + HOUR }),
        bell({ state: "answered", answeredAt: NOON - 5, dueAt: NOON + HOUR }),
        bell({ state: "excused", excusedAt: NOON }),
      ],
      { zone: ZONE, now: NOON },
    );
    expect([targets, inTarget]).toEqual([5, 3]);
  });
});

describe("days one after the other", () => {
  const zones = fc.constantFrom(
    "America/Denver",
    "Europe/Berlin",
    "Australia/Lord_Howe",
    "Asia/Kathmandu",
    "America/St_Johns",
  );
  // The weeks around both changes of clocks.
  const starts = fc.constantFrom(
    "2026-03-06",
    "2026-03-27",
    "2026-10-02",
    "2026-10-23",
    "2026-10-30",
    "2026-12-30",
  );

  it("leave no moment out and count none twice, over changes of clocks and at midnight", () => {
    fc.assert(
      fc.property(
        zones,
        starts,
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 1, maxLength: 60 }),
        (zone, first, parts) => {
          const dates = Array.from({ length: 7 }, (_, n) => dateBeside(first, n));
          const spans = dates.map((date) => {
            const from = startOfLocalDate(date, zone)!;
            return { date, from, to: endOfDay(from, zone) };
          });
          for (const [n, span] of spans.entries()) {
            expect(localDate(span.from, zone)).toBe(span.date);
            if (n > 0) expect(span.from).toBe(spans[n - 1]!.to);
          }
          const [from, to] = [spans[0]!.from, spans.at(-1)!.to];
          const times = [
            ...parts.map((p) => Math.floor(from + p * (to - 1 - from))),
            ...spans.map((s) => s.from),
          ];
          const days = spans.map((s) =>
            tellDay(
              times.filter((at) => at >= s.from && at < s.to).map((at) => event("inquiry", at)),
              [],
              { zone, now: to },
            ),
          );
          expect(days.reduce((sum, day) => sum + day.cameIn, 0)).toBe(times.length);
          // A plain recount: each by its date, and by the hour its clock showed, as Intl tells both.
          for (const [n, { date }] of spans.entries()) {
            const of = times.filter((at) => localDate(at, zone) === date);
            const shown = (at: number) =>
              Number(
                new Intl.DateTimeFormat("en-GB", {
                  hour: "2-digit",
                  hourCycle: "h23",
                  timeZone: zone,
                }).format(at),
              );
            expect(days[n]!.byHour).toEqual(
              Array.from({ length: 24 }, (_, h) => of.filter((at) => shown(at) === h).length),
            );
          }
        },
      ),
      { numRuns: 150 },
    );
  });

  it("have an hour twice in autumn and one missing in spring", () => {
    const once = hourOf(Date.parse("2026-11-01T07:30:00Z"), ZONE);
    const again = hourOf(Date.parse("2026-11-01T08:30:00Z"), ZONE);
    expect([once, again]).toEqual([1, 1]);
    expect(hourOf(Date.parse("2026-03-08T09:30:00Z"), ZONE)).toBe(3);
  });
});

it("what is usual is the mean of the days before, and nothing without any", () => {
  const day = (n: number) => Array.from({ length: 24 }, (_, h) => (h === 9 ? n : 0));
  expect(usualByHour([day(2), day(5)])[9]).toBe(3.5);
  expect(usualByHour([])).toEqual(Array.from({ length: 24 }, () => 0));
});
