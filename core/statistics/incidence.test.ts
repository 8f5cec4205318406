import { describe, expect, it } from "vitest";
import { cumulativeIncidence } from "./incidence.ts";

/**
 * Twenty courses with two competing causes, by R 4.2.2: `cmprsk::cuminc` (2.2.11) for the shares, and the squares of the
 * standard errors of `survival::survfit` (3.5.3) for their spread. The script is `incidence.reference.R`.
 */
const TIME = [1, 2, 2, 3, 4, 5, 5, 6, 7, 8, 9, 10, 11, 12, 12, 13, 14, 15, 16, 20];
const CAUSE = [1, 2, 0, 1, 2, 1, 1, 0, 2, 1, 0, 1, 2, 0, 1, 2, 1, 0, 2, 0];
const REFERENCE = [
  [1, 0.05, 0.002375],
  [3, 0.1029411765, 0.004763764502],
  [5, 0.2088235294, 0.008645506819],
  [8, 0.2661764706, 0.01048136322],
  [10, 0.3299019608, 0.012421711703],
  [12, 0.393627451, 0.01378711792],
  [14, 0.4700980392, 0.015446381702],
] as const;
const courses = TIME.map((time, i) => ({ time, cause: CAUSE[i]! }));

describe("cumulative incidence with competing causes", () => {
  it("is what R says, with its interval", () => {
    const points = cumulativeIncidence(courses, 1);
    expect(points.map((p) => p.time)).toEqual(REFERENCE.map(([time]) => time));
    points.forEach((point, i) => {
      const [, share, variance] = REFERENCE[i]!;
      expect(point.share).toBeCloseTo(share, 9);
      expect(((point.high - point.share) / 1.959964) ** 2).toBeCloseTo(variance, 6);
    });
  });
  it("without censoring is the plain share, and the shares of all causes sum to one", () => {
    const all = courses.filter((c) => c.cause !== 0);
    const last = (cause: number) => cumulativeIncidence(all, cause).at(-1)!.share;
    expect(last(1)).toBeCloseTo(all.filter((c) => c.cause === 1).length / all.length, 12);
    expect(last(1) + last(2)).toBeCloseTo(1, 12);
  });
  it("is less than one would say who takes those stopped for those still waiting", () => {
    // Kaplan–Meier of the first cause alone, by hand: the product over its own events.
    let survival = 1;
    TIME.forEach((time, i) => {
      if (CAUSE[i] === 1)
        survival *= 1 - 1 / TIME.filter((t, j) => t > time || (t === time && j >= i)).length;
    });
    expect(cumulativeIncidence(courses, 1).at(-1)!.share).toBeLessThan(1 - survival);
  });
  it("of nobody is empty", () => expect(cumulativeIncidence([], 1)).toEqual([]));
});
