import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { wilson, wilsonDifference } from "./wilson.ts";

describe("the Wilson interval", () => {
  // Newcombe 1998, Statistics in Medicine 17: method 3, as published.
  it.each([
    [81, 263, 0.2553, 0.3662],
    [15, 148, 0.0624, 0.1605],
    [0, 20, 0, 0.1611],
    [1, 29, 0.0061, 0.1718],
  ])("of %d in %d is %d to %d", (hits, all, low, high) => {
    const interval = wilson(hits, all);
    expect(interval.low).toBeCloseTo(low, 4);
    expect(interval.high).toBeCloseTo(high, 4);
  });
  it("holds the share that was seen, and is everything when nothing was", () => {
    expect(wilson(0, 0)).toEqual({ low: 0, high: 1 });
    fc.assert(
      fc.property(fc.nat(1000), fc.nat(1000), (a, b) => {
        const all = a + b || 1;
        const { low, high } = wilson(a, Math.max(all, 1));
        expect(low).toBeLessThanOrEqual(a / all + 1e-12);
        expect(high).toBeGreaterThanOrEqual(Math.min(1, a / all) - 1e-12);
      }),
    );
  });
});

describe("the interval of a difference", () => {
  // Newcombe 1998, table II: 56/70 − 48/80 by method 10, and its zero cells. Values from memory.
  it.each([
    [56, 70, 48, 80, 0.0524, 0.3339],
    [9, 10, 3, 10, 0.1705, 0.809],
    [10, 10, 0, 10, 0.6075, 1],
  ])("%d/%d − %d/%d", (a, n, b, m, low, high) => {
    const found = wilsonDifference({ hits: a, all: n }, { hits: b, all: m });
    expect(found.difference).toBeCloseTo(a / n - b / m, 12);
    expect(found.low).toBeCloseTo(low, 3);
    expect(found.high).toBeCloseTo(high, 3);
  });
});
