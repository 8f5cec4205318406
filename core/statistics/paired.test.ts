import { describe, expect, it } from "vitest";
import { Draws } from "./draws.ts";
import { pairedDifference } from "./paired.ts";

/** Student's t of a two-sided 95 % interval by degrees of freedom. Source: any published table of the t distribution. */
const T95: readonly (readonly [number, number])[] = [
  [1, 12.706],
  [2, 4.303],
  [4, 2.776],
  [9, 2.262],
  [19, 2.093],
  [30, 2.042],
];

describe("the mean of paired differences", () => {
  it.each(T95)("with %d degrees of freedom reaches %d standard errors to each side", (dof, t) => {
    const differences = Array.from({ length: dof + 1 }, (_, i) => (i * i) % 7);
    const n = differences.length;
    const mean = differences.reduce((a, b) => a + b, 0) / n;
    const error = Math.sqrt(differences.reduce((a, d) => a + (d - mean) ** 2, 0) / (n - 1) / n);
    const told = pairedDifference(differences);
    expect(told.mean).toBeCloseTo(mean, 12);
    expect((told.high! - mean) / error).toBeCloseTo(t, 3);
    expect((mean - told.low!) / error).toBeCloseTo(t, 3);
  });

  // Student 1908, table of Cushny and Peebles: hours of sleep gained by ten patients with one drug over another.
  it("is Student's own: ten patients slept 1.58 hours longer, with an error of 0.389", () => {
    const one = [0.7, -1.6, -0.2, -1.2, -0.1, 3.4, 3.7, 0.8, 0, 2];
    const other = [1.9, 0.8, 1.1, 0.1, -0.1, 4.4, 5.5, 1.6, 4.6, 3.4];
    const { mean, low, high } = pairedDifference(other.map((h, i) => h - one[i]!));
    expect(mean).toBeCloseTo(1.58, 9);
    // 1.58 ± 2.262 × 0.38896.
    expect(low).toBeCloseTo(0.7, 2);
    expect(high).toBeCloseTo(2.46, 2);
  });

  it("says nothing of one pair, and is certain of differences that are all the same", () => {
    expect(pairedDifference([3])).toEqual({ mean: null, low: null, high: null });
    expect(pairedDifference([])).toEqual({ mean: null, low: null, high: null });
    expect(pairedDifference([2, 2, 2])).toEqual({ mean: 2, low: 2, high: 2 });
  });

  it("holds the true difference in about 95 of a hundred", () => {
    const draws = new Draws(11);
    const normal = () => {
      const [u, v] = [1 - draws.next(), draws.next()];
      return Math.sqrt(-2 * Math.log(u)) * Math.cos(2 * Math.PI * v);
    };
    let held = 0;
    for (let i = 0; i < 2_000; i++) {
      const { low, high } = pairedDifference(Array.from({ length: 8 }, () => 5 + 3 * normal()));
      if (low! <= 5 && 5 <= high!) held++;
    }
    // Three standard deviations of a share of 0.95 over 2,000.
    expect(Math.abs(held / 2_000 - 0.95)).toBeLessThan(0.015);
  });
});
