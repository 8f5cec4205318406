import { type Compilable, type RawBuilder, sql as raw } from "kysely";
import { Redactor, sureOf } from "../../core/privacy/traces.ts";
import type { Sql } from "../db/sql.ts";
import type { Files } from "../files/files.ts";

/** So many rows are looked through in one stretch; between two the desk goes on. */
const STRETCH = 5_000;
/** So many of raw deliveries, which are larger. */
const RAW_STRETCH = 200;
/** Files in which others are named too: lists that were loaded, and lists that were sent. */
const READ_AS_TEXT = /^(text\/|application\/(json|ld\+json|csv|xml))/;
/** A shorter piece of a trace is no help in looking for it. */
const SHORTEST = 4;

/** Written anew by other means, or without a text of anybody's. */
const LEFT_OUT: ReadonlySet<string> = new Set([
  ...["leads", "contacts", "likeKeys", "records", "recordKeys", "searchOwn", "searchGaps", "searchDocs"],
  ...["setup", "ruleVersions", "secrets", "counters", "apiKeys", "erasures", "erasedPrints"],
  ...["kysely_migration", "kysely_migration_lock"],
]);
const isIndex = (table: string) => /^search(Known|Wrote)(_|$)/.test(table);

type Row = Readonly<Record<string, unknown>>;

/** A row that names them. What it becomes is seen when it is written: it may have changed meanwhile. */
export interface Spot {
  readonly table: Table;
  readonly where: readonly (readonly [column: string, value: unknown])[];
}

/** Everything that names somebody outside their own leads and their contact. */
export interface Mentions {
  readonly leadIds: ReadonlySet<string>;
  readonly recordIds: ReadonlySet<string>;
  readonly spots: readonly Spot[];
  readonly files: readonly string[];
}

const breathe = () => new Promise<void>((resolve) => setImmediate(resolve));

/** Looks for traces through every table and file, some at a time. It changes nothing. */
export async function mentionsOf(
  { sql, files }: { readonly sql: Sql; readonly files: Files },
  traces: readonly string[],
  isTheirs: (id: string) => boolean,
): Promise<Mentions> {
  const found = {
    leadIds: new Set<string>(),
    recordIds: new Set<string>(),
    spots: [] as Spot[],
    files: [] as string[],
  };
  if (traces.length === 0) return found;
  const redactor = new Redactor(traces);
  for (const table of sql.textColumns()) {
    if (isIndex(table.table) || LEFT_OUT.has(table.table) || table.text.length === 0) continue;
    for await (const rows of rowsNaming(sql, table, traces))
      for (const row of rows) {
        if (Object.keys(cleaned(table.text, row, redactor)).length === 0) continue;
        // What belongs to their own leads is emptied anyway.
        const of = String(row.leadId ?? row.recordId ?? "");
        if (isTheirs(of)) continue;
        if (table.table === "events") found.leadIds.add(of);
        else if (table.table === "bookEvents") found.recordIds.add(of);
        else {
          const by = table.hasRowid
            ? [["rowid", row._rowid] as const]
            : table.key.map((k) => [k, row[k]] as const);
          found.spots.push({ table, where: by });
        }
      }
  }
  await rawNaming(sql, redactor, isTheirs, found.spots);
  await filesNaming(sql, files, redactor, found.files);
  return found;
}

type Table = ReturnType<Sql["textColumns"]>[number];

/** The rows in whose texts one of the traces may stand. */
async function* rowsNaming(
  sql: Sql,
  { table, text, key, hasRowid }: Table,
  traces: readonly string[],
): AsyncGenerator<readonly Row[]> {
  const { q } = sql;
  const ask = <T>(query: RawBuilder<T>): T[] =>
    sql.once({ compile: () => query.compile(q) } as Compilable<T>);
  const pieces = [...new Set(traces.map(sureOf))];
  // A name without a letter the database knows both cases of: every row is looked at.
  const has = pieces.some((piece) => piece.length < SHORTEST)
    ? [raw`1`]
    : pieces.flatMap((piece) => text.map((column) => raw`instr(lower(${raw.ref(column)}), ${piece}) > 0`));
  const columns = [...new Set([...text, ...key])].map((column) => raw.ref(column));
  const what = raw.join(hasRowid ? [raw`rowid as "_rowid"`, ...columns] : columns);
  const from = raw`select ${what} from ${raw.table(table)} where (${raw.join(has, raw` or `)})`;
  /** A table without row numbers, from one key to another. */
  async function* byKey() {
    const keys = raw.join(key.map((column) => raw.ref(column)));
    const values = (row: Row) => raw.join(key.map((column) => row[column]));
    for (let after: Row | null = null; ; await breathe()) {
      const beyond: RawBuilder<unknown> = after ? raw`(${keys}) > (${values(after)})` : raw`1`;
      const [upTo]: Row[] = ask(
        raw<Row>`select ${keys} from ${raw.table(table)} where ${beyond} order by ${keys} limit 1 offset ${STRETCH - 1}`,
      );
      yield ask(raw<Row>`${from} and ${beyond} and ${upTo ? raw`(${keys}) <= (${values(upTo)})` : raw`1`}`);
      if (!upTo) return;
      after = upTo;
    }
  }
  if (!hasRowid) {
    yield* byKey();
    return;
  }
  const [last] = ask(raw<{ n: number | null }>`select max(rowid) as n from ${raw.table(table)}`);
  for (let at = 0; at <= (last?.n ?? -1); at += STRETCH) {
    yield ask(raw<Row>`${from} and rowid > ${at} and rowid <= ${at + STRETCH}`);
    await breathe();
  }
}

/** Leads in whose name, company, addresses or numbers one of the pieces stands, some at a time. */
export async function* leadsNaming(
  sql: Sql,
  pieces: readonly string[],
): AsyncGenerator<{ readonly id: string; readonly search: string }> {
  if (pieces.length === 0) return;
  const ask = <T>(query: RawBuilder<T>): T[] =>
    sql.once({ compile: () => query.compile(sql.q) } as Compilable<T>);
  const has = raw.join(
    pieces.map((piece) => raw`instr(search, ${piece}) > 0`),
    raw` or `,
  );
  const [last] = ask(raw<{ n: number | null }>`select max(rowid) as n from leads`);
  for (let at = 0; at <= (last?.n ?? -1); at += STRETCH, await breathe())
    yield* ask(
      raw<{ id: string; search: string }>`select id, search from leads
        where rowid > ${at} and rowid <= ${at + STRETCH} and (${has})`,
    );
}

/** The columns of a row that name them, as they are without that. */
function cleaned(columns: readonly string[], row: Row, redactor: Redactor): Record<string, string | Buffer> {
  const set: Record<string, string | Buffer> = {};
  for (const column of columns) {
    const value = row[column];
    if (Buffer.isBuffer(value)) {
      const text = value.toString("utf8");
      const clean = redactor.text(text);
      if (clean !== text) set[column] = Buffer.from(clean);
    } else if (typeof value === "string") {
      const clean = column.endsWith("Json") ? cleanJson(value, redactor) : redactor.text(value);
      if (clean !== value) set[column] = clean;
    }
  }
  return set;
}

/** Take what names them out of a row; one that is found by it goes whole. Call it inside a transaction. */
export function cleanSpot(sql: Sql, { table, where }: Spot, redactor: Redactor): void {
  const { q } = sql;
  const name = raw.table(table.table);
  const at = raw.join(
    where.map(([column, value]) => raw`${raw.ref(column)} = ${value}`),
    raw` and `,
  );
  const [row] = sql.once({ compile: () => raw<Row>`select * from ${name} where ${at}`.compile(q) });
  const set = row ? cleaned(Object.keys(row), row, redactor) : {};
  if (Object.keys(set).length === 0) return;
  const values = Object.entries(set).map(([column, value]) => raw`${raw.ref(column)} = ${value}`);
  const change = table.key.some((column) => column in set)
    ? raw`delete from ${name} where ${at}`
    : raw`update ${name} set ${raw.join(values)} where ${at}`;
  sql.run({ compile: () => change.compile(q) });
}

function cleanJson(text: string, redactor: Redactor): string {
  try {
    const value: unknown = JSON.parse(text);
    const clean = redactor.value(value);
    return clean === value ? text : JSON.stringify(clean);
  } catch {
    return redactor.text(text);
  }
}

/** What arrived from others and names them: a document of several people, or what nobody could read. */
async function rawNaming(
  sql: Sql,
  redactor: Redactor,
  isTheirs: (id: string) => boolean,
  spots: Spot[],
): Promise<void> {
  const table = sql.textColumns().find((t) => t.table === "inquiries");
  if (!table) return;
  const next = sql.q.selectFrom("inquiries").select(["id", "leadId", "raw"]).orderBy("id").limit(RAW_STRETCH);
  for (let after = ""; ; await breathe()) {
    const rows = sql.all(next.where("id", ">", after));
    for (const { id, leadId, raw: bytes } of rows) {
      if (isTheirs(leadId ?? "")) continue;
      if (Object.keys(cleaned(["raw"], { raw: bytes }, redactor)).length > 0)
        spots.push({ table, where: [["id", id]] });
    }
    const last = rows.at(-1);
    if (!last) return;
    after = last.id;
  }
}

/** Files of no lead that name them. */
async function filesNaming(sql: Sql, files: Files, redactor: Redactor, found: string[]): Promise<void> {
  const loose = sql.q
    .selectFrom("files")
    .select(["id", "type"])
    .where("id", "not in", sql.q.selectFrom("fileLeads").select("fileId"));
  for (const { id, type } of sql.all(loose)) {
    if (!READ_AS_TEXT.test(type)) continue;
    const text = files.read(id)?.bytes.toString("utf8") ?? "";
    if (redactor.text(text) !== text) found.push(id);
    await breathe();
  }
}
