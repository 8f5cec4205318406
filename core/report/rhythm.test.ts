import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { expectedAt, expectedBetween, QUIET_AFTER, quietAt, rhythmOf, silenceChance } from "./rhythm.ts";

const HOUR = 3_600_000;
const WEEK = 168 * HOUR;
const MONDAY = Date.parse("2026-01-05T00:00:00Z");

/** Two an hour from nine to five on working days, for some weeks. */
function office(weeks: number): Map<number, number> {
  const hourly = new Map<number, number>();
  for (let w = 0; w < weeks; w++)
    for (let day = 0; day < 5; day++)
      for (let hour = 9; hour < 17; hour++) hourly.set(MONDAY + w * WEEK + (day * 24 + hour) * HOUR, 2);
  return hourly;
}
const rhythm = rhythmOf(office(8), MONDAY, MONDAY + 8 * WEEK, "UTC");

describe("a source's rhythm", () => {
  it("knows busy and quiet hours, and loses nothing by smoothing", () => {
    expect(expectedAt(rhythm, MONDAY + 12 * HOUR)).toBe(2);
    expect(expectedAt(rhythm, MONDAY + 3 * HOUR)).toBe(0);
    expect(rhythm.perHour.reduce((a, b) => a + b, 0)).toBeCloseTo(80);
  });
  it("expects a week's worth in any week", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 60 * 24 * 30 }), (minutes) => {
        const from = MONDAY + minutes * 60_000;
        expect(expectedBetween(rhythm, from, from + WEEK)).toBeCloseTo(80, 6);
      }),
    );
  });
  it("adds up: between a and c is between a and b and between b and c", () => {
    const moment = fc.integer({ min: 0, max: 20 * 24 * 60 }).map((m) => MONDAY + m * 60_000);
    fc.assert(
      fc.property(moment, moment, moment, (x, y, z) => {
        const [a, b, c] = [x, y, z].sort((p, q) => p - q) as [number, number, number];
        expect(expectedBetween(rhythm, a, b) + expectedBetween(rhythm, b, c)).toBeCloseTo(
          expectedBetween(rhythm, a, c),
          6,
        );
      }),
    );
  });
  it("goes quiet exactly when that many would have come", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 14 * 24 * 60 }), (minutes) => {
        const last = MONDAY + minutes * 60_000;
        expect(expectedBetween(rhythm, last, quietAt(rhythm, last)!)).toBeCloseTo(QUIET_AFTER, 3);
      }),
    );
  });
  it("a silent weekend is no alarm: what is heard last on Friday is missed on Monday", () => {
    const friday = MONDAY + (4 * 24 + 16) * HOUR;
    expect(new Date(quietAt(rhythm, friday)!).getUTCDay()).toBe(1);
  });
  it("one burst is no rhythm: the same hour a week later is not expected to burst again", () => {
    const burst = new Map([...office(8), [MONDAY + 3 * HOUR, 500] as const]);
    const after = rhythmOf(burst, MONDAY, MONDAY + 8 * WEEK, "UTC");
    expect(expectedAt(after, MONDAY + 3 * HOUR)).toBeLessThan(1);
  });
  it("nothing is said of a source too young or too rare", () => {
    expect(quietAt(rhythmOf(office(1), MONDAY, MONDAY + WEEK, "UTC"), MONDAY + WEEK)).toBeNull();
    expect(quietAt(rhythmOf(new Map([[MONDAY, 1]]), MONDAY, MONDAY + 8 * WEEK, "UTC"), MONDAY)).toBeNull();
  });
  // Poisson: P(0) = e^-λ.
  it("the chance of hearing nothing is Poisson's", () =>
    expect(silenceChance(QUIET_AFTER)).toBeCloseTo(0.00248, 5));
});
