import type { ReadRow } from "./read-rows.ts";

/** Who stands in a row. */
export interface SlimRow {
  readonly row: number;
  readonly ways: readonly string[];
  readonly name: string | null;
  /** Whether an earlier row of the file is the same person. */
  readonly again: boolean;
  /** Numbers and addresses in it that can't be read. */
  readonly unread?: readonly string[];
}

/** Leaves of each row what going through a file needs, since it crosses from one thread to another. */
export function slimmer(): (row: ReadRow) => SlimRow | Extract<ReadRow, { reason: string }> {
  const seen = new Set<string>();
  return (row) => {
    if ("reason" in row) return row;
    const { facts } = row;
    const ways = [...facts.phones, ...facts.emails];
    const again = ways.some((w) => seen.has(w));
    for (const way of ways) seen.add(way);
    return { row: row.row, ways, name: facts.name, again, ...(facts.unread && { unread: facts.unread }) };
  };
}

export type CheckedRow = ReturnType<ReturnType<typeof slimmer>>;
