import fc from "fast-check";
import { DateTime } from "luxon";
import { describe, expect, it } from "vitest";
import { toKeep } from "./keep.ts";

const ZONE = "America/Denver";
const at = (iso: string) => DateTime.fromISO(iso, { zone: ZONE }).toMillis();
const days = (kept: ReadonlySet<number>) =>
  [...kept].sort((a, b) => a - b).map((t) => DateTime.fromMillis(t, { zone: ZONE }).toISODate());

describe("which backups are kept", () => {
  it("the newest of the last days, weeks and months, on the desk's calendar", () => {
    const nightly = Array.from({ length: 120 }, (_, i) => at("2026-03-09T02:30") - i * 86_400_000);
    expect(days(toKeep(nightly, { daily: 3, weekly: 3, monthly: 3 }, ZONE))).toEqual([
      "2026-01-31",
      "2026-02-28",
      "2026-03-01",
      "2026-03-07",
      "2026-03-08",
      "2026-03-09",
    ]);
    expect(toKeep([], { daily: 3, weekly: 3, monthly: 3 }, ZONE).size).toBe(0);
    expect(toKeep([5], { daily: 0, weekly: 0, monthly: 0 }, ZONE)).toEqual(new Set([5]));
  });

  it("is what Luxon's days, weeks and months say, of any times", () => {
    const few = fc.integer({ min: 0, max: 9 });
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: at("2025-12-20T00:00"), max: at("2027-01-10T00:00") }), { maxLength: 60 }),
        fc.record({ daily: few, weekly: few, monthly: few }),
        (times, pattern) => {
          const unique = [...new Set(times)].sort((a, b) => b - a);
          const by = (most: number, format: string) => {
            const first = new Map<string, number>();
            for (const t of unique) {
              const key = DateTime.fromMillis(t, { zone: ZONE }).toFormat(format);
              if (!first.has(key)) first.set(key, t);
            }
            return [...first.values()].slice(0, most);
          };
          const right = new Set([
            ...unique.slice(0, 1),
            ...by(pattern.daily, "yyyy-MM-dd"),
            ...by(pattern.weekly, "kkkk-WW"),
            ...by(pattern.monthly, "yyyy-MM"),
          ]);
          expect(toKeep(times, pattern, ZONE)).toEqual(right);
        },
      ),
    );
  });
});
