import jstat from "jstat";
import { sortedTimes, type Wait } from "./survival.ts";

export interface LogRank {
  readonly chi2: number;
  /** Degrees of freedom: groups that say something, less one. */
  readonly dof: number;
  /** The chance of so great a difference where there is none. */
  readonly p: number;
}

/** Fewer arrivals in all than this say nothing about a difference. */
const LEAST = 5;

/**
 * Whether groups wait differently, over the whole of their curves: the log-rank test of Mantel 1966 and Peto 1972 for two
 * groups and more. Null where there is nothing to compare: fewer than two groups with anybody in them, or fewer than five it has
 * come to. Checked against Freireich's data and R's survival. Never throws.
 */
export function logRank(groups: readonly (readonly Wait[])[]): LogRank | null {
  const filled = groups.filter((g) => g.length > 0).map(sortedTimes);
  const k = filled.length;
  const times = Float64Array.from(filled.flatMap((g) => [...g.came])).sort();
  if (k < 2 || times.length < LEAST) return null;
  const more = Array.from({ length: k }, () => 0);
  const spread = Array.from({ length: k }, () => Array.from({ length: k }, () => 0));
  const gone = new Int32Array(k);
  const next = new Int32Array(k);
  const shares = new Float64Array(k);
  for (let i = 0; i < times.length; ) {
    const time = times[i]!;
    const first = i;
    while (i < times.length && times[i] === time) i++;
    const d = i - first;
    let total = 0;
    for (let g = 0; g < k; g++) {
      const { ends } = filled[g]!;
      while (gone[g]! < ends.length && ends[gone[g]!]! < time) gone[g]!++;
      shares[g] = ends.length - gone[g]!;
      total += shares[g]!;
    }
    const ties = total > 1 ? (d * (total - d)) / (total - 1) : 0;
    for (let g = 0; g < k; g++) {
      const { came } = filled[g]!;
      const before = next[g]!;
      while (next[g]! < came.length && came[next[g]!] === time) next[g]!++;
      shares[g]! /= total;
      more[g]! += next[g]! - before - d * shares[g]!;
    }
    for (let g = 0; g < k; g++)
      for (let h = 0; h < k; h++) spread[g]![h]! += ties * shares[g]! * ((g === h ? 1 : 0) - shares[h]!);
  }
  // One group says nothing the others do not; one that was over before anything came has no spread.
  const told = spread.flatMap((row, g) => (row[g]! > 1e-12 ? [g] : [])).slice(1);
  if (told.length === 0) return null;
  const inverse = jstat.inv(told.map((g) => told.map((h) => spread[g]![h]!)));
  let chi2 = 0;
  told.forEach((g, i) => {
    told.forEach((h, j) => {
      chi2 += more[g]! * inverse[i]![j]! * more[h]!;
    });
  });
  return { chi2, dof: told.length, p: 1 - jstat.chisquare.cdf(chi2, told.length) };
}
