import jstat from "jstat";

/** A mean difference with its 95 % interval; all null of fewer than two pairs. */
export interface PairedDifference {
  readonly mean: number | null;
  readonly low: number | null;
  readonly high: number | null;
}

/**
 * The mean of differences taken pair by pair, with Student's 95 % interval for it. Differences that are all the same have an
 * interval without width. Source: Gosset 1908; checked against published tables of t. Never throws.
 */
export function pairedDifference(differences: readonly number[]): PairedDifference {
  const n = differences.length;
  if (n < 2) return { mean: null, low: null, high: null };
  const mean = differences.reduce((sum, d) => sum + d, 0) / n;
  const variance = differences.reduce((sum, d) => sum + (d - mean) ** 2, 0) / (n - 1);
  const reach = variance === 0 ? 0 : jstat.studentt.inv(0.975, n - 1) * Math.sqrt(variance / n);
  return { mean, low: mean - reach, high: mean + reach };
}
