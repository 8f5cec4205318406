import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { presence } from "../policy/people.ts";
import { personOf } from "../policy/setup.ts";
import { clockTime, localDate } from "../time/words.ts";
import { freeTimes } from "./free.ts";

const policy = { minutes: 30, bufferMinutes: 15, noticeMinutes: 120, daysAhead: 10 };
const mara = personOf(tarnholt, "p_mara")!;
const NINE = Date.parse("2026-03-04T16:00:00Z");
const HOUR = 3_600_000;

describe("free times", () => {
  it("begin after the notice, inside the hours, and leave room around what is booked", () => {
    const eleven = NINE + 2 * HOUR;
    const times = freeTimes(mara, [{ from: eleven + HOUR, to: eleven + 1.5 * HOUR }], policy, NINE);
    expect(times[0]).toBe(eleven);
    expect(times).not.toContain(eleven + 0.5 * HOUR);
    expect(times).not.toContain(eleven + 1.5 * HOUR);
    expect(times).toContain(eleven + 2 * HOUR);
    const today = times.filter((t) => localDate(t, "America/Denver") === "2026-03-04");
    // Mara works until half past six: the last call begins at six.
    expect(clockTime(today.at(-1)!, "America/Denver")).toBe("18:00");
  });
  it("keep to the clock on the wall over a clock change", () => {
    const days = freeTimes(mara, [], policy, NINE).map((t) => [
      localDate(t, "America/Denver"),
      clockTime(t, "America/Denver"),
    ]);
    // Clocks go forward on Sunday 8 March; Friday and Monday both begin at half past seven.
    for (const day of ["2026-03-06", "2026-03-09"]) expect(days.find(([d]) => d === day)?.[1]).toBe("07:30");
  });
  it("are none while somebody is away or off duty", () => {
    const away = {
      ...mara,
      absences: [{ from: NINE, to: NINE + 30 * 24 * HOUR, reason: "leave", coverId: null }],
    };
    expect(freeTimes(away, [], policy, NINE)).toEqual([]);
    expect(freeTimes({ ...mara, offDuty: true }, [], policy, NINE)).toEqual([]);
  });
  it("whatever is booked: on duty at the start, never into a booked call, and never soon", () => {
    const booked = fc.array(
      fc
        .integer({ min: 0, max: 400 })
        .map((n) => ({ from: NINE + (n * HOUR) / 2, to: NINE + ((n + 1) * HOUR) / 2 })),
    );
    fc.assert(
      fc.property(booked, (busy) => {
        for (const at of freeTimes(mara, busy, policy, NINE)) {
          expect(at).toBeGreaterThanOrEqual(NINE + 2 * HOUR);
          expect(presence(mara, at).onDuty).toBe(true);
          expect(busy.some((b) => at < b.to && at + HOUR / 2 > b.from)).toBe(false);
        }
      }),
      { numRuns: 50 },
    );
  });
});
