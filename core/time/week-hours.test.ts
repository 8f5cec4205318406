import fc from "fast-check";
import { DateTime } from "luxon";
import { describe, expect, it } from "vitest";
import { hourOfWeek } from "./week-hours.ts";

const ZONES = [
  "America/New_York",
  "Europe/London",
  "America/Phoenix",
  "America/St_Johns",
  "Asia/Kolkata",
  "Australia/Lord_Howe",
] as const;

describe("the hour of the week", () => {
  it("is luxon’s, in any zone, at any time and around every change of clocks", () => {
    const times = fc.oneof(
      fc.integer({ min: Date.UTC(2015, 0), max: Date.UTC(2035, 0) }),
      // The hours around what 2026 changes in those zones.
      fc
        .tuple(
          fc.constantFrom(
            Date.UTC(2026, 2, 8, 7),
            Date.UTC(2026, 10, 1, 6),
            Date.UTC(2026, 2, 29, 1),
            Date.UTC(2026, 9, 25, 1),
            Date.UTC(2026, 3, 4, 15),
            Date.UTC(2026, 9, 3, 15, 30),
          ),
          fc.oneof(fc.constantFrom(0, -1, 1), fc.integer({ min: -7_200_000, max: 7_200_000 })),
        )
        .map(([at, by]) => at + by),
    );
    fc.assert(
      fc.property(times, fc.constantFrom(...ZONES), (at, zone) => {
        const local = DateTime.fromMillis(at, { zone });
        expect(hourOfWeek(at, zone)).toBe((local.weekday - 1) * 24 + local.hour);
      }),
      { numRuns: 2000 },
    );
  });
});
