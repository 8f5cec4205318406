import fc from "fast-check";
import jstat from "jstat";
import { describe, expect, it } from "vitest";
import { Draws } from "./draws.ts";
import { limitsOf } from "./funnel.ts";
import { poissonInterval } from "./poisson.ts";
import { type Cell, standardize } from "./standardize.ts";

describe("Garwood’s interval", () => {
  // Published in tables of the exact Poisson interval; values from memory, recomputed by their definition below.
  it.each([
    [0, 0, 3.689],
    [1, 0.0253, 5.572],
    [10, 4.795, 18.39],
    [100, 81.36, 121.63],
  ])("of %d is the table’s", (count, low, high) => {
    const told = poissonInterval(count);
    expect(told.low).toBeCloseTo(low, 2);
    expect(told.high).toBeCloseTo(high, 2);
  });
  it("leaves 2.5 % on either side, by summing the distribution", () => {
    const upTo = (k: number, mean: number) => {
      let [term, sum] = [Math.exp(-mean), 0];
      for (let i = 0; i <= k; i++) {
        sum += term;
        term *= mean / (i + 1);
      }
      return sum;
    };
    for (const count of [1, 4, 17, 60]) {
      const { low, high } = poissonInterval(count);
      expect(1 - upTo(count - 1, low)).toBeCloseTo(0.025, 6);
      expect(upTo(count, high)).toBeCloseTo(0.025, 6);
    }
  });
});

describe("what chance leaves likely", () => {
  it("of equal chances is the binomial’s", () => {
    const { low95, high95, low998, high998, expected } = limitsOf(Array.from({ length: 50 }, () => 0.3));
    expect(expected).toBeCloseTo(15, 9);
    const likely = (k: number) => {
      let choose = 1;
      for (let i = 0; i < k; i++) choose = (choose * (50 - i)) / (i + 1);
      return choose * 0.3 ** k * 0.7 ** (50 - k);
    };
    const between = (from: number, to: number) => {
      let sum = 0;
      for (let k = Math.max(0, from); k <= to; k++) sum += likely(k);
      return sum;
    };
    for (const [low, high, tail] of [
      [low95, high95, 0.025],
      [low998, high998, 0.001],
    ] as const) {
      expect(between(0, low - 1)).toBeLessThanOrEqual(tail);
      expect(between(0, low)).toBeGreaterThan(tail);
      expect(between(high + 1, 50)).toBeLessThanOrEqual(tail);
      expect(between(high, 50)).toBeGreaterThan(tail);
    }
  });
  it("of chances of their own is what counting all outcomes says", () => {
    const chances = fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 9 });
    fc.assert(
      fc.property(chances, (p) => {
        const { low95, high95 } = limitsOf(p);
        let [under, over] = [0, 0];
        for (let mask = 0; mask < 2 ** p.length; mask++) {
          let [chance, count] = [1, 0];
          p.forEach((one, i) => {
            const hit = (mask >> i) & 1;
            chance *= hit ? one : 1 - one;
            count += hit;
          });
          if (count < low95) under += chance;
          if (count > high95) over += chance;
        }
        expect(under).toBeLessThanOrEqual(0.025 + 1e-9);
        expect(over).toBeLessThanOrEqual(0.025 + 1e-9);
      }),
      { numRuns: 60 },
    );
  });
  it("goes on without a step where it is taken for normal", () => {
    const [few, many] = [599, 600].map((n) => limitsOf(Array.from({ length: n }, () => 0.2)));
    expect(Math.abs(few!.low95 - many!.low95)).toBeLessThan(1.5);
    expect(Math.abs(few!.high998 - many!.high998)).toBeLessThan(2.5);
    expect(limitsOf([])).toEqual({ expected: 0, low95: 0, high95: 0, low998: 0, high998: 0 });
  });
});

describe("standardization", () => {
  /** Deaths by age in two towns, a table as textbooks have it: made of round numbers, worked out by hand. */
  const TOWNS: readonly Cell[] = [
    { group: "old town", stratum: "young", n: 1000, hits: 2 },
    { group: "old town", stratum: "old", n: 4000, hits: 80 },
    { group: "new town", stratum: "young", n: 4000, hits: 12 },
    { group: "new town", stratum: "old", n: 1000, hits: 30 },
  ];
  it("turns the raw order round where the strata do", () => {
    const [old, young] = standardize(TOWNS, 1);
    // Raw: 82 of 5000 against 42 of 5000. Both strata hold 5000 of all, so each weighs a half.
    expect([old!.raw, young!.raw]).toEqual([82 / 5000, 42 / 5000]);
    expect(old!.adjusted).toBeCloseTo(0.5 * 0.002 + 0.5 * 0.02, 12);
    expect(young!.adjusted).toBeCloseTo(0.5 * 0.003 + 0.5 * 0.03, 12);
    expect(old!.covered).toBe(1);
  });
  it("is the raw share where there is one stratum, and the same for the same seed", () => {
    const cells = [{ group: "a", stratum: "x", n: 40, hits: 10 }];
    const [told] = standardize(cells, 5);
    expect(told).toMatchObject({ raw: 0.25, adjusted: 0.25 });
    expect(standardize(cells, 5)).toEqual([told]);
    expect(standardize(cells, 6)[0]!.low).not.toBe(told!.low);
  });
  it("says how much of all it can speak of, and nothing where that is less than half", () => {
    const cells = [
      { group: "a", stratum: "x", n: 10, hits: 5 },
      { group: "b", stratum: "x", n: 10, hits: 5 },
      { group: "b", stratum: "y", n: 80, hits: 8 },
    ];
    const [a, b] = standardize(cells, 1);
    expect(a).toMatchObject({ adjusted: null, low: null, covered: 0.2, raw: 0.5 });
    expect(b?.adjusted).toBeCloseTo(0.2 * 0.5 + 0.8 * 0.1, 12);
    expect(standardize([], 1)).toEqual([]);
  });
  it("its interval holds the truth about as often as it says", () => {
    const draws = new Draws(21);
    const truth = 0.5 * 0.2 + 0.5 * 0.5;
    const times = 160;
    let held = 0;
    for (let i = 0; i < times; i++) {
      const cells = (["x", "y"] as const).flatMap((stratum) =>
        (["a", "b"] as const).map((group) => {
          const n = group === "a" ? 60 : 140;
          const p = stratum === "x" ? 0.2 : 0.5;
          return {
            group,
            stratum,
            n,
            hits: Array.from({ length: n }, () => draws.hits(p)).filter(Boolean).length,
          };
        }),
      );
      const { low, high } = standardize(cells, i).find((g) => g.group === "a")!;
      if (low! <= truth && truth <= high!) held++;
    }
    expect(held / times).toBeGreaterThan(0.88);
  });
});

describe("chance from a seed", () => {
  it("draws counts with the mean and variance of Poisson, small and great", () => {
    const draws = new Draws(2);
    for (const mean of [0.3, 8, 150, 400]) {
      const drawn = Array.from({ length: 4000 }, () => draws.count(mean));
      const average = drawn.reduce((sum, n) => sum + n, 0) / drawn.length;
      const variance = drawn.reduce((sum, n) => sum + (n - average) ** 2, 0) / drawn.length;
      expect(Math.abs(average - mean)).toBeLessThan(4 * Math.sqrt(mean / drawn.length));
      expect(variance / mean).toBeGreaterThan(0.88);
      expect(variance / mean).toBeLessThan(1.13);
    }
    expect(new Draws(1).count(0)).toBe(0);
  });
  it("draws from seeds beside each other what has nothing to do with each other", () => {
    const n = 4000;
    const first = Array.from({ length: n }, (_, seed) => new Draws(seed).next());
    const pairs = first.slice(1).map((x, i) => (x - 0.5) * (first[i]! - 0.5));
    // The mean of products of uniforms about their middle: 0 with a deviation of 1/12/√n.
    const mean = pairs.reduce((sum, x) => sum + x, 0) / pairs.length;
    expect(Math.abs(mean)).toBeLessThan(4 / 12 / Math.sqrt(n));
    const sorted = [...first].sort((a, b) => a - b);
    const distance = Math.max(...sorted.map((x, i) => Math.abs(x - (i + 0.5) / n)));
    expect(distance).toBeLessThan(1.95 / Math.sqrt(n));
    expect(new Draws(7).next()).toBe(new Draws(7).next());
  });
  it("draws waits and normals as they are distributed, by Kolmogorov and Smirnov", () => {
    const draws = new Draws(4);
    const distance = (drawn: number[], cdf: (x: number) => number) => {
      drawn.sort((a, b) => a - b);
      return Math.max(
        ...drawn.map((x, i) => Math.max(cdf(x) - i / drawn.length, (i + 1) / drawn.length - cdf(x))),
      );
    };
    const n = 3000;
    const waits = Array.from({ length: n }, () => draws.wait(5));
    const normals = Array.from({ length: n }, () => draws.normal());
    // Critical at 0.1 %: 1.95/√n.
    expect(distance(waits, (x) => 1 - Math.exp(-x / 5))).toBeLessThan(1.95 / Math.sqrt(n));
    expect(distance(normals, (x) => jstat.normal.cdf(x, 0, 1))).toBeLessThan(1.95 / Math.sqrt(n));
  });
});
