import jstat from "jstat";
import type { Wait } from "./survival.ts";

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
  const filled = groups.filter((g) => g.length > 0);
  const k = filled.length;
  const all = filled.flatMap((waits, group) => waits.map((w) => ({ ...w, group })));
  if (k < 2 || all.filter((w) => w.came).length < LEAST) return null;
  all.sort((a, b) => a.time - b.time);
  const atRisk = filled.map((g) => g.length);
  const more = Array.from({ length: k }, () => 0);
  const spread = Array.from({ length: k }, () => Array.from({ length: k }, () => 0));
  let total = all.length;
  for (let i = 0; i < all.length; ) {
    const { time } = all[i]!;
    const gone = Array.from({ length: k }, () => 0);
    const came = Array.from({ length: k }, () => 0);
    for (; i < all.length && all[i]!.time === time; i++) {
      gone[all[i]!.group]!++;
      if (all[i]!.came) came[all[i]!.group]!++;
    }
    const d = came.reduce((sum, n) => sum + n, 0);
    if (d > 0) {
      const ties = total > 1 ? (d * (total - d)) / (total - 1) : 0;
      for (let g = 0; g < k; g++) {
        const share = atRisk[g]! / total;
        more[g]! += came[g]! - d * share;
        for (let h = 0; h < k; h++) spread[g]![h]! += ties * share * ((g === h ? 1 : 0) - atRisk[h]! / total);
      }
    }
    for (let g = 0; g < k; g++) atRisk[g]! -= gone[g]!;
    total -= gone.reduce((sum, n) => sum + n, 0);
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
