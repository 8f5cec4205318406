import { quantile } from "simple-statistics";
import { Draws } from "./draws.ts";

/** So many of one group in one stratum, and how many of them it came to. */
export interface Cell {
  readonly group: string;
  readonly stratum: string;
  readonly n: number;
  readonly hits: number;
}

/** A group's share as it is, and as it would be if its strata were as common as among all. */
export interface Standardized {
  readonly group: string;
  readonly n: number;
  readonly hits: number;
  readonly raw: number;
  /** Null where too little of all has a counterpart in the group. */
  readonly adjusted: number | null;
  readonly low: number | null;
  readonly high: number | null;
  /** The part of all, 0 to 1, that lies in strata this group has anybody in: the rest tells nothing of it. */
  readonly covered: number;
}

/** So often chance is played through. */
const TIMES = 400;
/** Less of all than this with a counterpart in the group, and the adjusted share says nothing. */
const LEAST_COVERED = 0.5;

/**
 * Shares of groups made comparable: in each stratum the group's own share, weighted by how common the stratum is among all
 * (direct standardization); strata a group has nobody in are left out of its weights, and `covered` says so. The interval is the
 * middle 95 % of resampled records: each cell's count drawn anew from its own (the Poisson bootstrap, Hanley and MacGibbon
 * 2006), the same for the same `seed`. Groups come in the order they first appear. Never throws.
 */
export function standardize(cells: readonly Cell[], seed: number): readonly Standardized[] {
  const groups = [...new Set(cells.map((c) => c.group))];
  const draws = new Draws(seed);
  const drawn = new Map(groups.map((g) => [g, [] as number[]]));
  for (let i = 0; i < TIMES; i++) {
    const again = cells.map((cell) => {
      const hits = draws.count(cell.hits);
      return { ...cell, hits, n: hits + draws.count(cell.n - cell.hits) };
    });
    for (const [group, { adjusted }] of adjust(again))
      if (adjusted !== null) drawn.get(group)?.push(adjusted);
  }
  const told = adjust(cells);
  return groups.map((group) => {
    const { adjusted, covered } = told.get(group)!;
    const own = cells.filter((c) => c.group === group);
    const n = own.reduce((sum, c) => sum + c.n, 0);
    const hits = own.reduce((sum, c) => sum + c.hits, 0);
    const values = drawn.get(group)!;
    const isTold = adjusted !== null && values.length > TIMES / 2;
    return {
      group,
      n,
      hits,
      raw: n === 0 ? 0 : hits / n,
      adjusted,
      low: isTold ? quantile(values, 0.025) : null,
      high: isTold ? quantile(values, 0.975) : null,
      covered,
    };
  });
}

function adjust(cells: readonly Cell[]): Map<string, { adjusted: number | null; covered: number }> {
  const common = new Map<string, number>();
  let all = 0;
  for (const { stratum, n } of cells) {
    common.set(stratum, (common.get(stratum) ?? 0) + n);
    all += n;
  }
  const sums = new Map<string, { hits: number; weight: number }>();
  for (const { group, stratum, n, hits } of cells) {
    const sum = sums.get(group) ?? { hits: 0, weight: 0 };
    sums.set(group, sum);
    if (n === 0) continue;
    const weight = common.get(stratum)!;
    sum.hits += (weight * hits) / n;
    sum.weight += weight;
  }
  return new Map(
    [...sums].map(([group, { hits, weight }]) => {
      const covered = all === 0 ? 0 : weight / all;
      return [group, { adjusted: covered < LEAST_COVERED ? null : hits / weight, covered }];
    }),
  );
}
