import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Group } from "../policy/people.ts";
import { giveBack, type RotationState, takeTurn } from "./turns.ts";

const group = (weights: Record<string, number>): Group => ({
  id: "g",
  name: "G",
  way: "weighted",
  members: Object.entries(weights).map(([personId, weight]) => ({ personId, weight })),
});

/** Who goes, over and over. */
function play(g: Group, times: number, strict = false, there = g.members.map((m) => m.personId)) {
  let state: RotationState = {};
  return Array.from({ length: times }, () => {
    const move = takeTurn(g, new Set(there), state, strict)!;
    state = move.after;
    return move.turn.personId;
  });
}

describe("turns", () => {
  it("weights 5, 1, 1 go a a b a c a a (source: the example of nginx's smooth weighted round robin)", () => {
    expect(play(group({ a: 5, b: 1, c: 1 }), 7).join(" ")).toBe("a a b a c a a");
  });
  it("strict rotation counts every weight as one", () => {
    expect(play(group({ a: 5, b: 1, c: 1 }), 6, true).join(" ")).toBe("a b c a b c");
  });
  it("nobody who may have it takes no turn, and weight 0 is never asked", () => {
    expect(takeTurn(group({ a: 1 }), new Set(), {})).toBeNull();
    expect(takeTurn(group({ a: 0 }), new Set(["a"]), {})).toBeNull();
    expect(play(group({ a: 0, b: 1 }), 3).join(" ")).toBe("b b b");
  });
  it("after any number of strict turns the counts differ by one at most, and any seven in proportion to weights", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 8 }), fc.integer({ min: 0, max: 60 }), (people, times) => {
        const names = Array.from({ length: people }, (_, i) => `p${i}`);
        const went = play(group(Object.fromEntries(names.map((n) => [n, 1]))), times, true);
        const counts = names.map((n) => went.filter((w) => w === n).length);
        expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(1);
      }),
    );
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 1, maxLength: 5 }), (weights) => {
        const named = Object.fromEntries(weights.map((w, i) => [`p${i}`, w]));
        const round = weights.reduce((a, b) => a + b, 0);
        const went = play(group(named), round);
        for (const [name, weight] of Object.entries(named))
          expect(went.filter((x) => x === name)).toHaveLength(weight);
      }),
    );
  });
  it("whoever comes back from absence gets no flood, and whoever joins begins in the middle", () => {
    const g = group({ a: 1, b: 1, c: 1 });
    let state: RotationState = {};
    const go = (there: string[]) => {
      const move = takeTurn(g, new Set(there), state, true)!;
      state = move.after;
      return move.turn.personId;
    };
    for (let i = 0; i < 40; i++) go(["a", "b"]);
    const back = Array.from({ length: 9 }, () => go(["a", "b", "c"]));
    expect(back.filter((x) => x === "c")).toHaveLength(3);
  });
  it("a turn given back never was: whatever happens, the sum stays nothing and the others stand as before", () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({ there: fc.subarray(["a", "b", "c", "d"], { minLength: 1 }), back: fc.boolean() }),
          {
            maxLength: 40,
          },
        ),
        (steps) => {
          const g = group({ a: 3, b: 1, c: 2, d: 1 });
          let state: RotationState = {};
          let kept: RotationState = {};
          for (const { there, back } of steps) {
            const move = takeTurn(g, new Set(there), state)!;
            state = back ? giveBack(move.turn, move.after).after : move.after;
            if (!back) kept = takeTurn(g, new Set(there), kept)!.after;
          }
          const sum = Object.values(state).reduce((x, y) => x + y, 0);
          expect(sum).toBe(0);
          for (const { personId } of g.members) expect(state[personId] ?? 0).toBe(kept[personId] ?? 0);
        },
      ),
    );
  });
});

describe("many turns", () => {
  const group = (weights: Record<string, number>) => ({
    id: "g",
    name: "G",
    way: "rotation" as const,
    members: Object.entries(weights).map(([personId, weight]) => ({ personId, weight })),
  });
  const run = (weights: Record<string, number>, n: number) => {
    let state = {};
    return Array.from({ length: n }, () => {
      const move = takeTurn(group(weights), new Set(Object.keys(weights)), state)!;
      state = move.after;
      return move.turn.personId;
    });
  };
  // Source: nginx's smooth weighted round robin, its published example.
  it("weights a5 b1 c1 give a a b a c a a", () =>
    expect(run({ a: 5, b: 1, c: 1 }, 7).join(" ")).toBe("a a b a c a a"));
  it("after any number of turns among equals, counts differ by one at most", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 9 }), fc.integer({ min: 1, max: 60 }), (n, k) => {
        const weights = Object.fromEntries(Array.from({ length: n }, (_, i) => [`p${i}`, 1]));
        const turns = run(weights, k);
        const counts = Object.keys(weights).map((p) => turns.filter((t) => t === p).length);
        expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(1);
      }),
    );
  });
  it("whoever was away gets no flood on coming back", () => {
    const three = group({ a: 1, b: 1, c: 1 });
    let state = {};
    const turn = (who: string[]) => {
      const move = takeTurn(three, new Set(who), state)!;
      state = move.after;
      return move.turn.personId;
    };
    turn(["a", "b", "c"]);
    for (let i = 0; i < 50; i++) turn(["a", "b"]);
    const back = Array.from({ length: 6 }, () => turn(["a", "b", "c"]));
    expect(back.filter((p) => p === "c").length).toBeLessThanOrEqual(3);
  });
});
