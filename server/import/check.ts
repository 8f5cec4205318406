import { decodeTable, headerKey, MOST_COLUMNS, peekTable, rowFields } from "../../core/import/table.ts";
import { guessMapping } from "../../core/intake/guess.ts";
import { type Mapping, NO_MAPPING } from "../../core/policy/mapping.ts";
import type { Source } from "../../core/policy/source.ts";
import type { Engine } from "../engine/engine.ts";
import type { Looker } from "../engine/looker.ts";
import { hasThread } from "../threads.ts";
import { batchesOf } from "./batches.ts";
import type { RowsOf } from "./jobs.ts";
import { encodingOfFile, type ReadRow, readRows, WAS_ERASED } from "./read-rows.ts";
import { type CheckedRow, slimmer } from "./slim-row.ts";

/** What is decided before an import begins. */
export interface ImportOptions {
  readonly fields: Mapping["fields"];
  readonly tags: readonly string[];
  /** Offer each by the rules, with its first reply and bell; else they are only kept. */
  readonly route: boolean;
  /** Take in those too whose data was erased: they have asked to be known again. */
  readonly takeErased?: boolean | undefined;
}

/** What a file would do, before anything is written. */
export interface ImportCheck {
  readonly total: number;
  /** People not known yet. */
  readonly fresh: number;
  /** Rows whose person is a lead already, and the first of them. */
  readonly known: number;
  readonly knownRows: readonly {
    readonly row: number;
    readonly who: string;
    readonly lead: string;
    readonly leadId: string;
    readonly on: string;
  }[];
  /** Rows whose person stands in the file more than once. */
  readonly twice: number;
  readonly rejected: number;
  /** Of them those whose data was erased on request. */
  readonly erased: number;
  readonly rejectedRows: readonly {
    readonly row: number;
    readonly reason: string;
    readonly cells: readonly string[];
  }[];
  /** Rows that are loaded although a number or an address in them can't be read, and the first of them. */
  readonly unread: number;
  readonly unreadRows: readonly {
    readonly row: number;
    readonly who: string;
    readonly said: readonly string[];
  }[];
}

export interface ImportPreview {
  readonly fileId: string;
  readonly name: string;
  readonly encoding: string;
  readonly delimiter: string;
  readonly headers: readonly string[];
  readonly rows: readonly (readonly string[])[];
  readonly fields: Mapping["fields"];
  /** Whether the mapping is remembered from a file with the same headers. */
  readonly remembered: boolean;
}

export function mappedSource(source: Source, options: ImportOptions): Source {
  const mapping: Mapping = {
    ...NO_MAPPING,
    ...source.mapping,
    fields: options.fields,
    tags: [...new Set([...source.mapping.tags, ...options.tags])],
  };
  return { ...source, mapping };
}

export const breathe = () => new Promise<void>((resolve) => setImmediate(resolve));

/** Rows of a file, read in a worker where there is a build of it, else here. */
export function rowBatches(of: RowsOf): AsyncGenerator<ReadRow[]> {
  return hasThread("import") ? batchesOf<ReadRow[]>({ read: of }) : readRows(of);
}

export async function* checkedBatches(of: RowsOf): AsyncGenerator<CheckedRow[]> {
  if (hasThread("import")) return yield* batchesOf<CheckedRow[]>({ check: of });
  const slim = slimmer();
  for await (const batch of readRows(of)) yield batch.map(slim);
}

/** So many rows of each sort are shown. */
const SHOWN = 200;

/** Keep a file and show how it would be read. */
export function previewOf(
  { files, setup, sql }: Engine,
  bytes: Buffer,
  name: string,
): ImportPreview | { problem: string } {
  const { fileId } = files.keep(bytes, name, "text/csv");
  const path = files.pathOf(fileId);
  const encoding = path ? encodingOfFile(path) : "utf-8";
  const { headers, rows, delimiter } = peekTable(decodeTable(bytes.subarray(0, 1 << 20), encoding));
  if (headers.length === 0 || rows.length === 0)
    return { problem: "The file has no rows below its headers. The first row must name the columns." };
  if (headers.length > MOST_COLUMNS)
    return {
      problem: `The file has ${headers.length} columns, and ${MOST_COLUMNS} are the most. Leave out those that say nothing about people.`,
    };
  const kept = sql.get(
    sql.q.selectFrom("headerMappings").select("mappingJson").where("key", "=", headerKey(headers)),
  );
  const samples = rows.map((r) => rowFields(headers, r));
  const fields = kept
    ? (JSON.parse(kept.mappingJson) as Mapping["fields"])
    : guessMapping(samples, setup.policies);
  return {
    fileId,
    name,
    encoding,
    delimiter,
    headers,
    rows: rows.slice(0, 20),
    fields,
    remembered: !!kept,
  };
}

/** Go through the whole file without writing anything. */
export async function checkRows(of: RowsOf, looker: Looker): Promise<ImportCheck> {
  const check = { total: 0, fresh: 0, known: 0, twice: 0, rejected: 0, erased: 0, unread: 0 };
  const knownRows: ImportCheck["knownRows"][number][] = [];
  const rejectedRows: ImportCheck["rejectedRows"][number][] = [];
  const unreadRows: ImportCheck["unreadRows"][number][] = [];
  for await (const batch of checkedBatches(of)) {
    for (const row of batch) {
      check.total++;
      if ("reason" in row) {
        check.rejected++;
        if (row.reason === WAS_ERASED) check.erased++;
        if (rejectedRows.length < SHOWN) rejectedRows.push(row);
        continue;
      }
      const { ways, name, unread } = row;
      if (unread) {
        check.unread++;
        if (unreadRows.length < SHOWN)
          unreadRows.push({ row: row.row, who: name ?? ways[0] ?? "", said: unread });
      }
      const match = looker.match(ways);
      if (match) {
        check.known++;
        if (knownRows.length < SHOWN) {
          const lead = looker.lead(match.leadId)?.name ?? "a lead without a name";
          knownRows.push({
            row: row.row,
            who: name ?? ways[0] ?? "",
            lead,
            leadId: match.leadId,
            on: match.on,
          });
        }
      } else if (row.again) check.twice++;
      else check.fresh++;
    }
    await breathe();
  }
  return { ...check, knownRows, rejectedRows, unreadRows };
}
