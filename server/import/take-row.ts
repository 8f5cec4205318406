import type { Decided, Plan, World } from "../../core/desk/plan.ts";
import { receive } from "../../core/desk/receive.ts";
import type { MaybeSame } from "../../core/lead/lead.ts";
import type { Source } from "../../core/policy/source.ts";
import type { Sql } from "../db/sql.ts";
import type { Looker } from "../engine/looker.ts";
import type { ReadRow } from "./read-rows.ts";

export type GoodRow = Extract<ReadRow, { facts: unknown }>;
export type BadRow = Exclude<ReadRow, GoodRow>;

/** The id of a row's inquiry: it names its list and its row, where the original stands. */
export const rowInquiryId = (importId: string, row: number) => `${importId}.${row}`;

/** The lead that surely is the person of a row, and what that was seen by. */
export type Match = NonNullable<ReturnType<Looker["match"]>>;

interface RowManner {
  readonly importId: string;
  readonly source: Source;
  readonly route: boolean;
}

/** What one row of a list does to the desk. Pure. */
export function decideRow(
  world: World,
  { importId, source, route }: RowManner,
  { row, facts }: GoodRow,
  matchedOn: string | null,
  likely: readonly MaybeSame[] = [],
): Decided {
  return receive(world, {
    inquiryId: rowInquiryId(importId, row),
    source,
    facts,
    matchedOn,
    by: { kind: "desk" },
    goesTo: { kind: route ? "rules" : "kept" },
    likely,
  });
}

export interface RowTaker {
  /** Decide and commit one row, for the lead it matches or a new one. Call it inside a transaction. */
  take(way: RowManner, row: GoodRow, match: Match | null): Plan;
  /** Keep a row that could not be understood, with its reason. */
  refuse(importId: string, row: BadRow): void;
  /** Remember which leads the rows of one transaction became part of. Rows of lists need no record each. */
  note(importId: string, slice: readonly NotedRow[]): void;
}

/** A row, the lead it became part of, and whether it made that lead. */
export type NotedRow = readonly [row: number, leadId: string, made: 0 | 1];

/** How one row of a list becomes an inquiry, whichever thread does it. */
export function rowTaker(sql: Sql, looker: Looker, commit: (plan: Plan) => number): RowTaker {
  const insert = sql.inserter("importSlices", ["importId", "row", "leadsJson"]);
  const reject = sql.inserter("importRejects", ["importId", "row", "cellsJson", "reason"]);
  return {
    take(way, row, match) {
      const { facts } = row;
      // Comparing with everybody is worth it for those who go to a salesperson now.
      const likely = way.route && !match ? looker.likely(facts) : [];
      const decided = decideRow(looker.look(match?.leadId ?? null), way, row, match?.on ?? null, likely);
      if (!decided.ok) throw new Error(decided.problem.detail);
      commit(decided.plan);
      return decided.plan;
    },
    refuse(importId, { row, cells, reason }) {
      reject({ importId, row, cellsJson: JSON.stringify(cells), reason });
    },
    note(importId, slice) {
      const first = slice[0];
      if (first) insert({ importId, row: first[0], leadsJson: JSON.stringify(slice) });
    },
  };
}
