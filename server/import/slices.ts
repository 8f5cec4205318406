import { sql as raw } from "kysely";
import type { Sql } from "../db/sql.ts";
import type { NotedRow } from "./take-row.ts";

/** Which leads the rows of a list became part of, as they were noted: the rows of one transaction at a time. */

/** The rows of one transaction; `first` names them together with their list. */
export interface Slice {
  readonly first: number;
  readonly rows: readonly NotedRow[];
}

/** The slices of a list in the order of its rows, one read after the other. */
export function* slicesOf(sql: Sql, importId: string): Generator<Slice> {
  let after = -1;
  for (;;) {
    const found = sql.get(
      sql.q
        .selectFrom("importSlices")
        .select(["row", "leadsJson"])
        .where("importId", "=", importId)
        .where("row", ">", after)
        .orderBy("row")
        .limit(raw.lit(1)),
    );
    if (!found) return;
    after = found.row;
    yield { first: found.row, rows: JSON.parse(found.leadsJson) as NotedRow[] };
  }
}

/** Every row of a list with its lead. */
export function* leadsOf(sql: Sql, importId: string): Generator<NotedRow> {
  for (const { rows } of slicesOf(sql, importId)) yield* rows;
}
