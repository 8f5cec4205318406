import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { DealCard } from "../../wire/customer-schemas.ts";
import { type BoardFilter, fits, inOrder, lanesOf, SLACK_FROM, sayExact, sayWhole } from "./lanes.ts";

const NOW = Date.parse("2026-03-04T16:00:00Z");
const DAY = 86_400_000;

const card = (more: Partial<DealCard> = {}): DealCard => ({
  id: "d",
  name: "Sauna",
  who: "Rosa Lindqvist",
  what: "Barrel sauna",
  stage: "Priced",
  value: 100,
  currency: "USD",
  since: new Date(NOW).toISOString(),
  stay: "1 h",
  drift: null,
  expectedOn: null,
  nextStep: null,
  tasks: 0,
  owner: { id: "p_mara", name: "Mara" },
  source: "Website",
  slips: [],
  slipSaid: [],
  urgency: 0,
  rank: null,
  closed: null,
  ...more,
});

describe("deals on a wire", () => {
  it("never cover one another, whatever their places, and none is left out", () => {
    const drift = fc.option(fc.double({ min: 0, max: 1, noNaN: true }), { nil: null });
    fc.assert(
      fc.property(
        fc.array(drift, { maxLength: 60 }),
        fc.double({ min: 0.05, max: 0.9, noNaN: true }),
        (drifts, room) => {
          const deals = drifts.map((d, i) => card({ id: `d${i}`, drift: d }));
          const lanes = lanesOf(deals, NOW, room);
          expect(
            lanes
              .flat()
              .map((p) => p.deal.id)
              .sort(),
          ).toEqual(deals.map((d) => d.id).sort());
          for (const lane of lanes)
            lane.forEach(({ x }, i) => {
              expect(x).toBeGreaterThanOrEqual(0);
              expect(x + room).toBeLessThanOrEqual(1 + 1e-9);
              const next = lane[i + 1];
              if (next) expect(next.x).toBeGreaterThanOrEqual(x + room - 1e-9);
            });
        },
      ),
    );
  });

  it("those that come first hang highest", () => {
    const lanes = lanesOf([card({ id: "a", drift: 0.5 }), card({ id: "b", drift: 0.5 })], NOW, 0.2);
    expect(lanes.map((l) => l[0]?.deal.id)).toEqual(["a", "b"]);
  });

  it("without a past to be measured by they hang by their days, and never in the slack", () => {
    const at = (days: number) =>
      lanesOf([card({ since: new Date(NOW - days * DAY).toISOString() })], NOW, 0)[0]![0]!.x;
    expect([at(0), at(20)]).toEqual([0, 0.5]);
    expect(at(400)).toBeLessThan(SLACK_FROM);
  });
});

describe("the order", () => {
  const deals = [
    card({ id: "a", urgency: 1, value: 300, rank: 2 }),
    card({ id: "b", urgency: 9, value: 100 }),
    card({ id: "c", urgency: 5, value: 200, rank: 1 }),
  ];
  it.each([
    ["urgency", ["b", "c", "a"]],
    ["own", ["c", "a", "b"]],
    ["value", ["a", "c", "b"]],
  ] as const)("by %s", (order, ids) => expect(inOrder(deals, order).map((d) => d.id)).toEqual(ids));
  it("of equals is by who has stood there longest", () => {
    const since = (days: number) => new Date(NOW - days * DAY).toISOString();
    expect(
      inOrder([card({ id: "new", since: since(1) }), card({ id: "old", since: since(9) })], "urgency")[0]?.id,
    ).toBe("old");
  });
});

describe("the filter", () => {
  const all: BoardFilter = { owner: "", source: "", text: "", slips: false };
  it.each<[Partial<BoardFilter>, boolean]>([
    [{}, true],
    [{ text: "LINDQ" }, true],
    [{ text: "barrel" }, true],
    [{ text: "tub" }, false],
    [{ owner: "p_mara" }, true],
    [{ owner: "p_sol" }, false],
    [{ source: "Website" }, true],
    [{ source: "Ad" }, false],
    [{ slips: true }, false],
  ])("%j", (more, is) => expect(fits(card(), { ...all, ...more })).toBe(is));
  it("shows what slips", () =>
    expect(fits(card({ slips: ["no-step"] }), { ...all, slips: true })).toBe(true));
});

describe("sums", () => {
  it("are said whole on the board, and as they are in the panel", () => {
    expect([sayWhole(7_886.95, "USD"), sayExact(7_886.95, "USD"), sayExact(7_000, "USD")]).toEqual([
      "$7,887",
      "$7,886.95",
      "$7,000",
    ]);
  });
});
