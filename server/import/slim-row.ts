import type { ReadRow } from "./read-rows.ts";

/** Who stands in a row. */
export interface SlimRow {
  readonly row: number;
  readonly ways: readonly string[];
  readonly name: string | null;
}

/** A row without what going through a file does not need: it crosses from one thread to another. */
export function slimRow(row: ReadRow): SlimRow | Extract<ReadRow, { reason: string }> {
  if ("reason" in row) return row;
  const { facts } = row;
  return { row: row.row, ways: [...facts.phones, ...facts.emails], name: facts.name };
}
