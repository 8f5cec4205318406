import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { atDesk, Bench, companyWith, MIN } from "../../tests/support/memory.ts";
import { ladderTimes, WEEK_STEP, weekOfRings } from "./draw.ts";

const { targets, ladders } = tarnholt.policies;
const inquiry = targets.find((t) => !t.about && !t.when) ?? targets[0]!;
const ladder = ladders.find((l) => l.id === inquiry.ladderId)!;

describe("a ladder that is drawn", () => {
  it("has the times of the bell that begins then, wherever the lead is and whenever it comes", () => {
    const moment = fc
      .integer({ min: 0, max: 7 * 24 * 60 })
      .map((m) => atDesk("2026-03-02T00:00:00") + m * MIN);
    const where = fc.constantFrom<"lead" | undefined>("lead", undefined);
    fc.assert(
      fc.property(moment, where, fc.integer({ min: 1, max: 600 }), (at, zone, minutes) => {
        const target = { ...inquiry, when: null, minutes, ...(zone && { zone }) };
        const bench = new Bench(companyWith({ targets: [target] }), at);
        // A postal code in Quebec: another zone than the desk's.
        const id = bench.arrive({ postal_code: "G1K 3X2" });
        const lead = bench.lead(id);
        expect(lead.facts.zone).toBe("America/Toronto");
        const drawn = ladderTimes(bench.desk.setup, target, ladder, lead.facts.zone, at);
        expect(drawn).toEqual(lead.bell!.rungs);
        expect(drawn.find((r) => r.act === "ring")!.at).toBe(lead.bell!.dueAt);
      }),
      { numRuns: 60 },
    );
  });
  it("without rungs is the bell alone", () => {
    const now = atDesk("2026-03-04T09:00:00");
    expect(
      ladderTimes(tarnholt, { ...inquiry, minutes: 5 }, null, null, now).map((r) => [r.act, r.at]),
    ).toEqual([["ring", now + 5 * MIN]]);
  });
});

it("a week of rings has each moment's own ring, in the order of time", () => {
  const now = atDesk("2026-03-04T09:00:00");
  const { from, rings } = weekOfRings(tarnholt, { ...inquiry, minutes: 5 }, null, now);
  expect(from).toBe(atDesk("2026-03-04T00:00:00"));
  expect(rings[(now - from) / WEEK_STEP]).toBe(now + 5 * MIN);
  // On Sunday nobody is there: it rings on Monday.
  const sunday = atDesk("2026-03-08T12:00:00");
  expect(rings[(sunday - from) / WEEK_STEP]).toBe(atDesk("2026-03-09T08:05:00"));
  for (const [i, ring] of rings.entries()) {
    expect(ring).toBeGreaterThanOrEqual(from + i * WEEK_STEP);
    expect(ring).toBeGreaterThanOrEqual(rings[i - 1] ?? 0);
  }
});
