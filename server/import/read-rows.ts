import { closeSync, createReadStream, openSync, readSync } from "node:fs";
import Papa from "papaparse";
import { type Encoding, encodingOf, headersOf, rowFields } from "../../core/import/table.ts";
import { type InquiryFacts, understand } from "../../core/intake/understand.ts";
import type { Policies, Source } from "../../core/policy/policy.ts";

/** One row, understood or not. `row` counts from 1 below the headers. */
export type ReadRow =
  | { readonly row: number; readonly facts: InquiryFacts }
  | { readonly row: number; readonly cells: readonly string[]; readonly reason: string };

export interface RowsOf {
  readonly path: string;
  readonly encoding: Encoding;
  readonly delimiter: string;
  /** With the import's mapping in place of its own. */
  readonly source: Source;
  readonly policies: Policies;
  /** Rows before this one are skipped: a restart goes on where it was. */
  readonly from: number;
}

/** How many rows are handed over at a time. */
const BATCH = 500;

/** The encoding of a file by its beginning. */
export function encodingOfFile(path: string): Encoding {
  const head = Buffer.alloc(4_096);
  const handle = openSync(path, "r");
  try {
    return encodingOf(head.subarray(0, readSync(handle, head, 0, head.length, 0)));
  } finally {
    closeSync(handle);
  }
}

async function* textOf(path: string, encoding: Encoding): AsyncGenerator<string> {
  const decoder = new TextDecoder(encoding);
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 15 }))
    yield decoder.decode(chunk as Buffer, { stream: true });
  yield decoder.decode();
}

/**
 * Read a table's rows and understand each, a batch at a time. The file is streamed, so memory does not grow with it.
 * An empty row is none; a broken one comes with its reason and never stops the others.
 */
export async function* readRows(of: RowsOf, size = BATCH): AsyncGenerator<ReadRow[]> {
  let headers: string[] | null = null;
  let row = 0;
  let rest = "";
  const batch: ReadRow[] = [];
  const take = (rows: string[][]) => {
    for (const cells of rows) {
      if (cells.length === 0 || (cells.length === 1 && cells[0]!.trim() === "")) continue;
      if (!headers) headers = headersOf(cells);
      else {
        row++;
        if (row < of.from) continue;
        batch.push(readRow(of, headers, cells, row));
      }
    }
  };
  const parse = (text: string) =>
    Papa.parse<string[]>(text, { delimiter: of.delimiter, skipEmptyLines: "greedy" }).data;
  for await (const chunk of textOf(of.path, of.encoding)) {
    rest += headers || rest ? chunk : chunk.replace(/^\uFEFF/, "");
    const cut = lastRowEnd(rest);
    if (cut === 0) continue;
    take(parse(rest.slice(0, cut)));
    rest = rest.slice(cut);
    while (batch.length >= size) yield batch.splice(0, size);
  }
  if (rest.trim()) take(parse(rest));
  while (batch.length > 0) yield batch.splice(0, size);
}

/** Where the last whole row of a text ends: after a line break that is not inside quotes. 0 when there is none. */
function lastRowEnd(text: string): number {
  let quoted = false;
  let end = 0;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c === 34) quoted = !quoted;
    else if (c === 10 && !quoted) end = i + 1;
    else if (c === 13 && !quoted && i + 1 < text.length && text.charCodeAt(i + 1) !== 10) end = i + 1;
  }
  return end;
}

function readRow(of: RowsOf, headers: readonly string[], cells: readonly string[], row: number): ReadRow {
  const understood = understand(of.source, of.policies, rowFields(headers, cells));
  return understood.ok ? { row, facts: understood.facts } : { row, cells, reason: understood.reason };
}
