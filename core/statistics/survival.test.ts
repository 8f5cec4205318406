import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Draws } from "./draws.ts";
import { logRank } from "./log-rank.ts";
import { differenceAt, pointAt, quantileOf, survivalOf, type Wait } from "./survival.ts";

/**
 * Weeks of remission with 6-MP (0: censored) and with placebo: Freireich et al. 1963, as printed in textbooks. The figures they
 * are held against are R 4.2.2's (survival 3.5.3) by `survival.reference.R`, and agree with the textbooks' to three decimals.
 */
const SIX_MP = waits([
  [6, 1],
  [6, 1],
  [6, 1],
  [6, 0],
  [7, 1],
  [9, 0],
  [10, 1],
  [10, 0],
  [11, 0],
  [13, 1],
  [16, 1],
  [17, 0],
  [19, 0],
  [20, 0],
  [22, 1],
  [23, 1],
  [25, 0],
  [32, 0],
  [32, 0],
  [34, 0],
  [35, 0],
]);
const PLACEBO = waits(
  [1, 1, 2, 2, 3, 4, 4, 5, 5, 8, 8, 8, 8, 11, 11, 12, 12, 15, 17, 22, 23].map((time) => [time, 1] as const),
);

/** Days survived in the Veterans' lung cancer trial by cell type (Kalbfleisch and Prentice), as R's survival brings it. */
const VETERANS = {
  squamous: [
    [72, 1],
    [411, 1],
    [228, 1],
    [126, 1],
    [118, 1],
    [10, 1],
    [82, 1],
    [110, 1],
    [314, 1],
    [100, 0],
    [42, 1],
    [8, 1],
    [144, 1],
    [25, 0],
    [11, 1],
    [999, 1],
    [112, 1],
    [87, 0],
    [231, 0],
    [242, 1],
    [991, 1],
    [111, 1],
    [1, 1],
    [587, 1],
    [389, 1],
    [33, 1],
    [25, 1],
    [357, 1],
    [467, 1],
    [201, 1],
    [1, 1],
    [30, 1],
    [44, 1],
    [283, 1],
    [15, 1],
  ],
  smallcell: [
    [30, 1],
    [384, 1],
    [4, 1],
    [54, 1],
    [13, 1],
    [123, 0],
    [97, 0],
    [153, 1],
    [59, 1],
    [117, 1],
    [16, 1],
    [151, 1],
    [22, 1],
    [56, 1],
    [21, 1],
    [18, 1],
    [139, 1],
    [20, 1],
    [31, 1],
    [52, 1],
    [287, 1],
    [18, 1],
    [51, 1],
    [122, 1],
    [27, 1],
    [54, 1],
    [7, 1],
    [63, 1],
    [392, 1],
    [10, 1],
    [25, 1],
    [103, 0],
    [21, 1],
    [13, 1],
    [87, 1],
    [2, 1],
    [20, 1],
    [7, 1],
    [24, 1],
    [99, 1],
    [8, 1],
    [99, 1],
    [61, 1],
    [25, 1],
    [95, 1],
    [80, 1],
    [51, 1],
    [29, 1],
  ],
  adeno: [
    [8, 1],
    [92, 1],
    [35, 1],
    [117, 1],
    [132, 1],
    [12, 1],
    [162, 1],
    [3, 1],
    [95, 1],
    [24, 1],
    [18, 1],
    [83, 0],
    [31, 1],
    [51, 1],
    [90, 1],
    [52, 1],
    [73, 1],
    [8, 1],
    [36, 1],
    [48, 1],
    [7, 1],
    [140, 1],
    [186, 1],
    [84, 1],
    [19, 1],
    [45, 1],
    [80, 1],
  ],
  large: [
    [177, 1],
    [162, 1],
    [216, 1],
    [553, 1],
    [278, 1],
    [12, 1],
    [260, 1],
    [200, 1],
    [156, 1],
    [182, 0],
    [143, 1],
    [105, 1],
    [103, 1],
    [250, 1],
    [100, 1],
    [52, 1],
    [164, 1],
    [19, 1],
    [53, 1],
    [15, 1],
    [43, 1],
    [340, 1],
    [133, 1],
    [111, 1],
    [231, 1],
    [378, 1],
    [49, 1],
  ],
} satisfies Record<string, readonly (readonly [number, number])[]>;

function waits(pairs: readonly (readonly [number, number])[]): Wait[] {
  return pairs.map(([time, came]) => ({ time, came: came === 1 }));
}

describe("Kaplan and Meier", () => {
  it("tells Freireich’s remissions as R does, with Greenwood’s variance and the band", () => {
    const { points, n, censored } = survivalOf(SIX_MP);
    expect([n, censored]).toEqual([21, 12]);
    const reference = [
      [6, 0.857143, 0.00583090379, 0.619718, 0.951552, 21],
      [7, 0.806723, 0.007557743809, 0.563147, 0.922809, 17],
      [10, 0.752941, 0.009283255632, 0.5032, 0.889362, 15],
      [13, 0.690196, 0.011409381797, 0.43161, 0.849066, 12],
      [16, 0.627451, 0.01300828418, 0.367511, 0.804912, 11],
      [22, 0.537815, 0.016443895073, 0.267779, 0.746791, 7],
      [23, 0.448179, 0.018114860232, 0.188052, 0.680143, 6],
    ] as const;
    expect(points).toHaveLength(reference.length);
    points.forEach((point, i) => {
      const [time, waiting, variance, low, high, atRisk] = reference[i]!;
      expect([point.time, point.atRisk]).toEqual([time, atRisk]);
      expect(point.waiting).toBeCloseTo(waiting, 6);
      expect(point.variance).toBeCloseTo(variance, 10);
      expect(point.low).toBeCloseTo(low, 6);
      expect(point.high).toBeCloseTo(high, 6);
    });
  });

  it("tells quartiles with their intervals, and none where the record does not reach", () => {
    const six = survivalOf(SIX_MP);
    expect([0.25, 0.5, 0.75].map((p) => quantileOf(six, p))).toEqual([
      { at: 13, low: 6, high: 22 },
      { at: 23, low: 13, high: null },
      { at: null, low: 23, high: null },
    ]);
    const veterans = survivalOf(waits(Object.values(VETERANS).flat() as (readonly [number, number])[]));
    expect([0.25, 0.5, 0.75].map((p) => quantileOf(veterans, p))).toEqual([
      { at: 25, low: 18, high: 33 },
      { at: 80, low: 52, high: 100 },
      { at: 162, low: 132, high: 231 },
    ]);
  });

  it("is the definition’s product over any waits, in any order", () => {
    const any = fc.array(fc.record({ time: fc.integer({ min: 0, max: 30 }), came: fc.boolean() }), {
      maxLength: 60,
    });
    fc.assert(
      fc.property(any, (list) => {
        const { points } = survivalOf(list);
        for (const { time, waiting, low, high } of points) {
          let product = 1;
          for (const at of new Set(list.filter((w) => w.came && w.time <= time).map((w) => w.time))) {
            const risk = list.filter((w) => w.time >= at).length;
            product *= 1 - list.filter((w) => w.came && w.time === at).length / risk;
          }
          expect(waiting).toBeCloseTo(product, 9);
          expect(low).toBeLessThanOrEqual(waiting + 1e-12);
          expect(high).toBeGreaterThanOrEqual(waiting - 1e-12);
        }
        expect(points.map((p) => p.time)).toEqual(
          [...new Set(list.filter((w) => w.came).map((w) => w.time))].sort((a, b) => a - b),
        );
      }),
    );
  });

  it("without anybody still waiting is the plain share", () => {
    const curve = survivalOf(PLACEBO);
    expect(pointAt(curve, 8)?.waiting).toBeCloseTo(8 / 21, 12);
    expect(pointAt(curve, 0.5)).toBeNull();
    expect(curve.points.at(-1)?.waiting).toBe(0);
  });

  it("of nobody, of one, and of those who all still wait, has no figure that is none", () => {
    expect(survivalOf([])).toEqual({ n: 0, censored: 0, points: [] });
    expect(survivalOf([{ time: 3, came: true }]).points).toEqual([
      { time: 3, waiting: 0, low: 0, high: 1, atRisk: 1, variance: 0 },
    ]);
    const none = survivalOf(PLACEBO.map((w) => ({ ...w, came: false })));
    expect([none.points.length, quantileOf(none, 0.5).at]).toEqual([0, null]);
  });

  it("its band holds the truth about as often as it says", () => {
    const draws = new Draws(7);
    const [times, at] = [600, 0.7];
    let held = 0;
    for (let i = 0; i < times; i++) {
      const sample = Array.from({ length: 60 }, () => {
        const [time, end] = [draws.wait(1), draws.wait(2)];
        return { time: Math.min(time, end), came: time <= end };
      });
      const point = pointAt(survivalOf(sample), at);
      if (point && point.low <= Math.exp(-at) && Math.exp(-at) <= point.high) held++;
    }
    // 95 % within three standard deviations of so many trials, and a little for small samples.
    expect(held / times).toBeGreaterThan(0.915);
    expect(held / times).toBeLessThan(0.985);
  });
});

describe("log-rank", () => {
  it("is R’s and the textbooks’ for Freireich’s data", () => {
    const test = logRank([SIX_MP, PLACEBO])!;
    expect(test.chi2).toBeCloseTo(16.79294099, 7);
    expect(test.dof).toBe(1);
    // 1 − pchisq(16.79294099, 1) in R 4.2.2.
    expect(test.p).toBeCloseTo(4.1688e-5, 8);
  });
  it("is R’s for four groups of a second data set, in any order of groups", () => {
    const groups = Object.values(VETERANS).map((g) => waits(g as readonly (readonly [number, number])[]));
    expect(logRank(groups)!.chi2).toBeCloseTo(25.40370035, 6);
    expect(logRank(groups.toReversed())!.chi2).toBeCloseTo(25.40370035, 6);
    expect(logRank(groups)!.dof).toBe(3);
  });
  it("finds a difference where there is none about as often as chance does", () => {
    const draws = new Draws(3);
    const group = () => Array.from({ length: 30 }, () => ({ time: draws.wait(1), came: draws.hits(0.8) }));
    const times = 1000;
    let found = 0;
    for (let i = 0; i < times; i++) if (logRank([group(), group()])!.p < 0.05) found++;
    expect(found / times).toBeGreaterThan(0.03);
    expect(found / times).toBeLessThan(0.08);
  });
  it("says nothing where there is nothing to compare", () => {
    expect(logRank([SIX_MP])).toBeNull();
    expect(logRank([SIX_MP, []])).toBeNull();
    expect(logRank([SIX_MP.slice(0, 2), SIX_MP.slice(3, 5)])).toBeNull();
    // Nobody of the first was still there when anything came.
    expect(logRank([[{ time: 0, came: false }], PLACEBO])).toBeNull();
  });
});

describe("the difference at a time", () => {
  it("is the shares’, with both variances", () => {
    const told = differenceAt(survivalOf(PLACEBO), survivalOf(SIX_MP), 10)!;
    expect(told.difference).toBeCloseTo(0.752941 - 8 / 21, 6);
    // Of 21 who all came by their time the variance is p(1 − p)/n.
    const deviation = Math.sqrt(0.009283255632 + ((8 / 21) * (13 / 21)) / 21);
    expect(told.high - told.difference).toBeCloseTo(1.959964 * deviation, 6);
  });
  it("of nobody, or before anything came, is none", () => {
    expect(differenceAt(survivalOf([]), survivalOf(PLACEBO), 4)).toBeNull();
    expect(differenceAt(survivalOf(SIX_MP), survivalOf(SIX_MP), 1)).toBeNull();
  });
});
