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
  const strata = [...new Set(cells.map((c) => c.stratum))];
  const placeOf = (names: readonly string[]) => new Map(names.map((name, i) => [name, i]));
  const [groupAt, stratumAt] = [placeOf(groups), placeOf(strata)];
  const table: Table = {
    groups: groups.length,
    strata: strata.length,
    group: Int32Array.from(cells, (c) => groupAt.get(c.group)!),
    stratum: Int32Array.from(cells, (c) => stratumAt.get(c.stratum)!),
    n: Float64Array.from(cells, (c) => c.n),
    hits: Float64Array.from(cells, (c) => c.hits),
  };
  const draws = new Draws(seed);
  const drawn = groups.map(() => [] as number[]);
  // Counted by place and not by name: this is done for hundreds of cells, hundreds of times.
  const again = { ...table, n: table.n.slice(), hits: table.hits.slice() };
  for (let i = 0; i < TIMES; i++) {
    for (const [at, { n, hits }] of cells.entries()) {
      again.hits[at] = draws.count(hits);
      again.n[at] = again.hits[at]! + draws.count(n - hits);
    }
    for (const [group, { adjusted }] of adjust(again).entries())
      if (adjusted !== null) drawn[group]!.push(adjusted);
  }
  const told = adjust(table);
  return groups.map((group, i) => {
    const { adjusted, covered } = told[i]!;
    const own = cells.filter((c) => c.group === group);
    const n = own.reduce((sum, c) => sum + c.n, 0);
    const hits = own.reduce((sum, c) => sum + c.hits, 0);
    const values = drawn[i]!;
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

/** Cells as columns: which group and stratum each is of, by place. */
interface Table {
  readonly groups: number;
  readonly strata: number;
  readonly group: Int32Array;
  readonly stratum: Int32Array;
  readonly n: Float64Array;
  readonly hits: Float64Array;
}

/** The adjusted share of each group, in order. */
function adjust({
  groups,
  strata,
  group,
  stratum,
  n,
  hits,
}: Table): { adjusted: number | null; covered: number }[] {
  const common = new Float64Array(strata);
  let all = 0;
  for (let i = 0; i < n.length; i++) {
    common[stratum[i]!]! += n[i]!;
    all += n[i]!;
  }
  const [hit, weight] = [new Float64Array(groups), new Float64Array(groups)];
  for (let i = 0; i < n.length; i++) {
    if (n[i] === 0) continue;
    const own = common[stratum[i]!]!;
    hit[group[i]!]! += (own * hits[i]!) / n[i]!;
    weight[group[i]!]! += own;
  }
  return Array.from(weight, (own, i) => {
    const covered = all === 0 ? 0 : own / all;
    return { adjusted: covered < LEAST_COVERED ? null : hit[i]! / own, covered };
  });
}
