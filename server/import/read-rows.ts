import { closeSync, createReadStream, openSync, readSync } from "node:fs";
import Papa from "papaparse";
import { type Encoding, encodingOf, headersOf, rowFields } from "../../core/import/table.ts";
import { bounded, MOST_ANSWERS } from "../../core/intake/fields.ts";
import { understand } from "../../core/intake/understand.ts";
import type { InquiryFacts } from "../../core/lead/inquiry.ts";
import { knowsErased } from "../privacy/prints.ts";
import type { RowsOf } from "./jobs.ts";

/** One row, understood or not. `row` counts from 1 below the headers. */
export type ReadRow =
  | { readonly row: number; readonly facts: InquiryFacts }
  | { readonly row: number; readonly cells: readonly string[]; readonly reason: string };

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
  const isErased = knowsErased(of.erased);
  let row = 0;
  let rest = "";
  const ends = rowEnds();
  const batch: ReadRow[] = [];
  const take = (rows: string[][]) => {
    for (const cells of rows) {
      if (cells.length === 0 || (cells.length === 1 && cells[0]!.trim() === "")) continue;
      if (!headers) headers = headersOf(cells);
      else {
        row++;
        if (row < of.from) continue;
        batch.push(readRow(of, headers, cells, row, isErased));
      }
    }
  };
  const parse = (text: string) =>
    Papa.parse<string[]>(text, { delimiter: of.delimiter, skipEmptyLines: "greedy" }).data;
  for await (const chunk of textOf(of.path, of.encoding)) {
    const fresh = headers || rest ? chunk : chunk.replace(/^\uFEFF/, "");
    const end = ends.last(fresh);
    if (end < 0) rest += fresh;
    else {
      take(parse(rest + fresh.slice(0, end)));
      rest = fresh.slice(end);
    }
    if (rest.length > MOST_ROW) {
      row++;
      if (row >= of.from) batch.push({ row, cells: [rest.slice(0, 200)], reason: TOO_LONG });
      rest = "";
      ends.skip();
    }
    while (batch.length >= size) yield batch.splice(0, size);
  }
  if (rest.trim()) take(parse(rest));
  while (batch.length > 0) yield batch.splice(0, size);
}

/** The longest row (characters); beyond it a quote is missing, and everything after it would be one cell. */
const MOST_ROW = 1_048_576;
const TOO_LONG = "This row is longer than a million characters: a closing quote may be missing before it.";

/**
 * Finds where rows end in a text that comes piece by piece: after line breaks that are not inside quotes. Each piece is
 * looked at once, so that a file without line breaks is read in linear time.
 */
function rowEnds(): { last(text: string): number; skip(): void } {
  let quoted = false;
  return {
    /** Where the last whole row ends in this piece; −1 when none does. */
    last(text) {
      let end = -1;
      for (let i = 0; i < text.length; i++) {
        const c = text.charCodeAt(i);
        if (c === 34) quoted = !quoted;
        else if (c === 10 && !quoted) end = i + 1;
        else if (c === 13 && !quoted && i + 1 < text.length && text.charCodeAt(i + 1) !== 10) end = i + 1;
      }
      return end;
    },
    /** What was open is given up: the next line break ends a row. */
    skip() {
      quoted = false;
    },
  };
}

/** Why a row is not loaded whose person was erased. */
export const WAS_ERASED =
  "This person’s data was erased on request. Take them in only if they have asked to be known again.";

function readRow(
  of: RowsOf,
  headers: readonly string[],
  cells: readonly string[],
  row: number,
  isErased: (value: string) => boolean,
): ReadRow {
  const fields = bounded(rowFields(headers, cells));
  if (!fields)
    return { row, cells: cells.slice(0, 50), reason: `It has more than ${MOST_ANSWERS} filled cells.` };
  const understood = understand(of.source, of.policies, fields);
  if (!understood.ok) return { row, cells, reason: understood.reason };
  const { facts } = understood;
  // Nothing of them is kept, not even as a row that was refused.
  if (facts.phones.some(isErased) || facts.emails.some(isErased))
    return { row, cells: [], reason: WAS_ERASED };
  return { row, facts };
}
