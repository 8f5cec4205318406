import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { takeTurn } from "../rotation/turns.ts";
import { jainIndex } from "../statistics/jain.ts";
import { fairShare, type ShareEvent } from "./fair-share.ts";

describe("Jain's index (Jain, Chiu, Hawe 1984)", () => {
  it("is 1 for equal shares, and k/n when k of n share equally", () => {
    expect(jainIndex([3, 3, 3])).toBe(1);
    for (const [k, n] of [
      [1, 4],
      [3, 5],
      [2, 2],
    ] as const)
      expect(jainIndex(Array.from({ length: n }, (_, i) => (i < k ? 7 : 0)))).toBeCloseTo(k / n, 12);
    expect(jainIndex([])).toBeNull();
    expect(jainIndex([0, 0])).toBe(1);
  });
});

const lodges = tarnholt.groups.find((g) => g.id === "g_lodges")!;
const now = { at: Date.parse("2026-03-04T16:00:00Z"), loads: { p_hanne: 2 }, rotations: {} };
let n = 0;
const offer = (to: string, there: string[]): ShareEvent => {
  const { turn } = takeTurn(lodges, new Set(there), { [to]: 9 })!;
  return {
    leadId: `l${++n}`,
    kind: "offered",
    data: {
      handOffId: "h",
      to: [to],
      until: 0,
      open: false,
      by: "",
      groupId: "g_lodges",
      turn: { ...turn, before: {} },
    },
  };
};

describe("fair share", () => {
  const events: ShareEvent[] = [
    offer("p_hanne", ["p_hanne", "p_ravi"]),
    { leadId: "l1", kind: "taken", data: { personId: "p_hanne" } },
    offer("p_hanne", ["p_hanne"]),
    { leadId: "l2", kind: "passed", data: { personId: "p_hanne", reason: "x", turnBack: true } },
    offer("p_ravi", ["p_hanne", "p_ravi"]),
    { leadId: "l3", kind: "lapsed", data: { to: ["p_ravi"] } },
    {
      leadId: "l1",
      kind: "turn-credited",
      data: { personId: "p_hanne", groupId: "g_lodges", reason: "bad" },
    },
  ];
  const share = () => fairShare(events, tarnholt, now).find((g) => g.groupId === "g_lodges")!;
  const of = (id: string) => share().people.find((p) => p.personId === id);
  it("counts what was offered, taken, passed, lapsed and given back", () => {
    expect(of("p_hanne")).toMatchObject({
      offered: 2,
      taken: 1,
      passed: 1,
      lapsed: 0,
      credited: 2,
      openNow: 2,
    });
    expect(of("p_ravi")).toMatchObject({ offered: 1, taken: 0, lapsed: 1, credited: 0, openNow: 0 });
  });
  it("owes each their part of every offer they could have had, and nothing of the others", () => {
    expect(of("p_hanne")?.wanted).toBe(2);
    expect(of("p_ravi")?.wanted).toBe(1);
    expect(share().jain).toBe(1);
  });
  it("says whose turn is next and why; nobody when nobody is there", () => {
    expect(share().next).toMatchObject({
      personId: "p_hanne",
      reason: expect.stringContaining("the highest of 2"),
    });
    const night = fairShare(events, tarnholt, { ...now, at: Date.parse("2026-03-04T08:00:00Z") });
    expect(night.find((g) => g.groupId === "g_lodges")?.next).toBeNull();
  });
});
