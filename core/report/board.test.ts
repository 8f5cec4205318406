import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { blankRecord, type Deal } from "../book/records.ts";
import { DEAL_STAGES } from "../policy/stages.ts";
import { boardOf, driftOf, ENOUGH_ENDED, recordOf, slipsOf, urgency } from "./board.ts";

const DAY = 86_400_000;
const [first, second] = DEAL_STAGES.map((s) => s.key) as [string, string];

const deal = (more: Partial<Deal>): Deal =>
  ({ ...blankRecord("deal", "d", 0), stage: first, path: [{ stage: first, at: 0 }], ...more }) as Deal;
const ended = (kind: "won" | "lost", days: number): Deal =>
  deal({
    stage: kind === "won" ? "Won" : "Lost",
    path: [
      { stage: first, at: 0 },
      { stage: kind === "won" ? "Won" : "Lost", at: days * DAY },
    ],
    closed: { kind, reason: "x", at: days * DAY },
  });

describe("the board", () => {
  it("expects what was won from a stage before, with Wilson’s interval", () => {
    // Newcombe 1998: 15/148 lies within 0.0624 to 0.1605.
    const past = [
      ...Array.from({ length: 15 }, () => ended("won", 3)),
      ...Array.from({ length: 133 }, () => ended("lost", 3)),
    ];
    const [column] = boardOf(DEAL_STAGES, [deal({ value: 1_000_000 })], past);
    expect(column?.record).toMatchObject({ ended: 148, won: 15 });
    const { sum, low, high } = column!.expected!;
    expect([sum, Math.round(low / 100), Math.round(high / 100)]).toEqual([101_351, 624, 1605]);
    expect(column!.record.share!.low).toBeCloseTo(0.0624, 4);
    expect(column!.record.share!.high).toBeCloseTo(0.1605, 4);
  });

  it("says nothing of what to expect when too few have ended", () => {
    const few = Array.from({ length: ENOUGH_ENDED - 1 }, () => ended("won", 1));
    expect(boardOf(DEAL_STAGES, [deal({ value: 5 })], few)[0]?.expected).toBeNull();
  });

  it("sums equal a plain recount, whatever the deals are", () => {
    const any = fc.record({
      value: fc.integer({ min: 0, max: 10 ** 9 }),
      stage: fc.constantFrom(...DEAL_STAGES.filter((s) => s.kind === "open").map((s) => s.key)),
    });
    fc.assert(
      fc.property(fc.array(any, { maxLength: 40 }), (list) => {
        const open = list.map((l, i) => deal({ ...l, id: `d${i}` }));
        const columns = boardOf(DEAL_STAGES, open, []);
        for (const { stage, deals, sum } of columns) {
          let again = 0;
          for (const one of list) if (one.stage === stage.key) again += one.value;
          expect([sum, deals.length]).toEqual([again, list.filter((l) => l.stage === stage.key).length]);
        }
        expect(columns.flatMap((c) => c.deals)).toHaveLength(open.length);
      }),
    );
  });

  it("a deal drifts by how long others stayed, and hangs in the slack past four of five", () => {
    const record = recordOf(
      first,
      Array.from({ length: 10 }, (_, i) => ended("lost", i + 1)),
    );
    expect(record.slack).toBe(8 * DAY);
    expect([0, 3.5 * DAY, 8 * DAY].map((stay) => driftOf(stay, record))).toEqual([0, 0.3, 0.8]);
    expect(driftOf(80 * DAY, record)).toBeCloseTo(0.98, 6);
    expect(driftOf(5, recordOf(second, []))).toBeNull();
  });

  it("tells what slips, the most pressing first", () => {
    const at = { now: 10 * DAY, today: "2026-03-04", weekEnd: "2026-03-10" };
    const none = recordOf(first, []);
    const slips = (more: Partial<Deal>) => slipsOf(deal(more), none, at);
    expect(slips({ expectedOn: "2026-03-03" })).toEqual(["expected-past", "no-step"]);
    expect(slips({ expectedOn: "2026-03-10", nextStep: { note: "x", dueAt: 9 * DAY } })).toEqual([
      "expected-soon",
      "step-overdue",
    ]);
    expect(slips({ expectedOn: "2026-03-11", nextStep: { note: "x", dueAt: 11 * DAY } })).toEqual([]);
    const late = deal({ expectedOn: "2026-03-03" });
    const soon = deal({ expectedOn: "2026-03-09", nextStep: { note: "x", dueAt: 11 * DAY } });
    expect(urgency(late, slipsOf(late, none, at), at.now)).toBeGreaterThan(
      urgency(soon, slipsOf(soon, none, at), at.now),
    );
  });
});
