import { mkdirSync, renameSync, rmSync, statfsSync, statSync } from "node:fs";
import { dirname } from "node:path";
import Database from "better-sqlite3";
import { type Compilable, Kysely, Migrator, SqliteDialect } from "kysely";
import { migrations } from "./migrations.ts";
import type { Schema } from "./schema.ts";

type Row = Record<string, unknown>;

/** Why the database cannot be used as it should, in words for whoever looks after it. */
export interface DiskTrouble {
  readonly kind: "full" | "damaged" | "read-only" | "failing";
  /** Since when (epoch ms, by the machine's clock). */
  readonly since: number;
  readonly said: string;
}

const SAID: Readonly<Record<DiskTrouble["kind"], string>> = {
  full: "The disk is full: nothing new can be kept. Make room, and then the desk goes on; senders are told to come again.",
  damaged:
    "A part of the database is damaged. Stop Kite Bell, run `npm run verify`, and put back the last copy of the folder.",
  "read-only": "The data folder can’t be written to. Give Kite Bell the right to write there.",
  failing: "The disk fails to read or write. Look after it before anything else.",
};

/** What an error of the database or the disk says of the disk; null when it is about something else. */
export function troubleOf(error: unknown): DiskTrouble["kind"] | null {
  const code = String((error as { code?: unknown } | null)?.code ?? "");
  if (code.startsWith("SQLITE_FULL") || code === "ENOSPC" || code === "EDQUOT") return "full";
  if (code.startsWith("SQLITE_CORRUPT") || code.startsWith("SQLITE_NOTADB")) return "damaged";
  if (code.startsWith("SQLITE_READONLY") || code === "EROFS" || code === "EACCES") return "read-only";
  if (code.startsWith("SQLITE_IOERR") || code.startsWith("SQLITE_CANTOPEN") || code === "EIO")
    return "failing";
  return null;
}

/** Rows of one statement where many are inserted: more gain nothing. */
const AT_ONCE = 25;

/**
 * The database. Queries are written with Kysely and run at once, without a promise in between, so that
 * look → decide → commit is one uninterrupted piece and two requests can never interleave inside it.
 */
export class Sql {
  readonly #native: Database.Database;
  readonly #statements = new Map<string, Database.Statement>();
  #depth = 0;
  #trouble: DiskTrouble | null = null;
  /** Told when the disk begins to make trouble, and when it is well again. */
  onTrouble: () => void = () => {};
  /** Where queries are built. */
  readonly q: Kysely<Schema>;
  /** The file it is kept in. */
  readonly path: string;

  private constructor(native: Database.Database) {
    this.#native = native;
    this.path = native.name;
    this.q = new Kysely<Schema>({ dialect: new SqliteDialect({ database: native }) });
  }

  /**
   * Open the database at `path` (made when missing) and bring it to the newest shape. `durable: false`
   * leaves flushing to the operating system: only for making demo data. `durable: "in time"` flushes with the log's
   * checkpoints and not with every commit: for work that is acknowledged to nobody and goes on where the file says. `references: false` does
   * not look up the lead of every row again: for writing in bulk what has just been made. `copyBefore` is where a database that must be
   * brought to a newer shape is copied to first.
   */
  static async open(
    path: string,
    {
      durable = true,
      cacheMb = 128,
      references = true,
      copyBefore = null,
    }: {
      durable?: boolean | "in time";
      cacheMb?: number;
      references?: boolean;
      copyBefore?: string | null;
    } = {},
  ): Promise<Sql> {
    if (path !== ":memory:") mkdirSync(dirname(path), { recursive: true });
    const native = new Database(path);
    native.pragma("journal_mode = WAL");
    native.pragma(`synchronous = ${durable === "in time" ? "NORMAL" : durable ? "FULL" : "OFF"}`);
    // A table may have to be made again while others refer to it.
    native.pragma("foreign_keys = OFF");
    native.pragma("busy_timeout = 5000");
    // What is deleted is overwritten: somebody who was erased stands in no page.
    native.pragma("secure_delete = ON");
    native.pragma(`cache_size = -${cacheMb * 1024}`);
    // Moved back into the file every 32 MB instead of every 4: pages written often are written once.
    native.pragma("wal_autocheckpoint = 8000");
    const sql = new Sql(native);
    await sql.#migrate(copyBefore);
    native.pragma(`foreign_keys = ${references ? "ON" : "OFF"}`);
    return sql;
  }

  /** Bring the tables to their newest shape: all that is missing, or nothing when one step fails. */
  async #migrate(copyBefore: string | null): Promise<void> {
    const migrator = new Migrator({ db: this.q, provider: { getMigrations: async () => migrations } });
    const known = await migrator.getMigrations();
    if (known.every((m) => m.executedAt)) return;
    if (copyBefore && known.some((m) => m.executedAt)) await this.#copyTo(copyBefore);
    this.#native.exec("BEGIN IMMEDIATE");
    const { error } = await migrator.migrateToLatest();
    if (!error) this.#native.exec("COMMIT");
    else if (this.#native.inTransaction) this.#native.exec("ROLLBACK");
    if (error) throw error;
  }

  /** Copy the database as it is, whole or not at all. @throws with a sentence where there is no room. */
  async #copyTo(path: string): Promise<void> {
    const part = `${path}.part`;
    rmSync(part, { force: true });
    const { bavail, bsize } = statfsSync(dirname(path));
    const wanted = 2 * statSync(this.path).size;
    if (bavail * bsize < wanted)
      throw new Error(
        `A newer Kite Bell changes the shape of the database, and keeps a copy of it first: ${Math.ceil(wanted / 2 ** 20)} MB are needed beside it. Make room, and start again.`,
      );
    await this.#native.backup(part, { progress: () => 2 ** 31 - 1 });
    renameSync(part, path);
  }

  /** What the disk stands in the way with now; null when it is well. Damage stays until the next start. */
  get trouble(): DiskTrouble | null {
    return this.#trouble;
  }

  /** Something failed: when it was the disk's doing, remember it. Gives the error back, to be thrown on. */
  noteTrouble(error: unknown): unknown {
    const kind = troubleOf(error);
    if (!kind || this.#trouble?.kind === kind || this.#trouble?.kind === "damaged") return error;
    this.#trouble = { kind, since: this.#trouble?.since ?? Date.now(), said: SAID[kind] };
    this.onTrouble();
    return error;
  }

  #well(): void {
    if (!this.#trouble || this.#trouble.kind === "damaged") return;
    this.#trouble = null;
    this.onTrouble();
  }

  #noting<T>(work: () => T): T {
    try {
      return work();
    } catch (error) {
      throw this.noteTrouble(error);
    }
  }

  /**
   * Move what is in the log into the file, as far as nobody reads it: a log that is lost then costs little. Never throws;
   * says whether it could.
   */
  checkpoint(): boolean {
    try {
      this.#native.pragma("wal_checkpoint(PASSIVE)");
      return true;
    } catch (error) {
      this.noteTrouble(error);
      return false;
    }
  }

  /** How many rows this connection has written since it was opened. */
  written(): number {
    return (this.#prepare("select total_changes() as n").get() as { n: number }).n;
  }

  /** All rows of a query. */
  all<T>(query: Compilable<T>): T[] {
    const { sql, parameters } = query.compile();
    return this.#noting(() => this.#prepare(sql).all(...parameters) as T[]);
  }

  /** All rows of a query whose text people make: it is not kept for the next time. */
  once<T>(query: Compilable<T>): T[] {
    const { sql, parameters } = query.compile();
    return this.#noting(() => this.#native.prepare(sql).all(...parameters) as T[]);
  }

  /** The rows of a query one after the other, none kept. Nothing else may be asked of this connection meanwhile. */
  iterate<T>(query: Compilable<T>): IterableIterator<T> {
    const { sql, parameters } = query.compile();
    return this.#native.prepare(sql).iterate(...parameters) as IterableIterator<T>;
  }

  /** The first row of a query, or undefined. */
  get<T>(query: Compilable<T>): T | undefined {
    const { sql, parameters } = query.compile();
    return this.#noting(() => this.#prepare(sql).get(...parameters) as T | undefined);
  }

  /** Run a writing query; gives the number of rows changed. */
  run(query: Compilable<unknown>): number {
    const { sql, parameters } = query.compile();
    const { changes } = this.#noting(() => this.#prepare(sql).run(...parameters));
    if (this.#depth === 0 && changes > 0) this.#well();
    return changes;
  }

  /**
   * A query compiled once and run often with other parameters: the hot path. `build` gets sample values;
   * the returned functions take real ones in the order in which they stand in the query.
   */
  hot<T>(query: Compilable<T>): {
    all: (...values: unknown[]) => T[];
    get: (...values: unknown[]) => T | undefined;
    run: (...values: unknown[]) => Database.RunResult;
  } {
    const statement = this.#prepare(query.compile().sql);
    return {
      all: (...values) => this.#noting(() => statement.all(...values) as T[]),
      get: (...values) => this.#noting(() => statement.get(...values) as T | undefined),
      run: (...values) => this.#noting(() => statement.run(...values)),
    };
  }

  /** An insert compiled once: takes rows with just these columns. */
  inserter<T extends keyof Schema & string>(
    table: T,
    columns: readonly (keyof Schema[T] & string)[],
  ): (row: Row) => Database.RunResult {
    const sample = Object.fromEntries(columns.map((c) => [c, null])) as never;
    const statement = this.#prepare(this.q.insertInto(table).values(sample).compile().sql);
    return (row) => statement.run(...columns.map((c) => row[c] ?? null));
  }

  /**
   * Inserts rows of just these columns, many with one statement; `spare` leaves what stands there already as it is.
   * Gives how many were written.
   */
  filler<T extends keyof Schema & string>(
    table: T,
    columns: readonly (keyof Schema[T] & string)[],
    { spare = false } = {},
  ): (rows: readonly Row[]) => number {
    const one = Object.fromEntries(columns.map((c) => [c, null]));
    const statementOf = (n: number) => {
      const rows = this.q.insertInto(table).values(Array(n).fill(one) as never);
      return this.#prepare((spare ? rows.onConflict((c) => c.doNothing()) : rows).compile().sql);
    };
    const many = statementOf(AT_ONCE);
    const single = statementOf(1);
    return (rows) => {
      let written = 0;
      for (let at = 0; at < rows.length; ) {
        const statement = at + AT_ONCE <= rows.length ? many : single;
        const to = statement === many ? at + AT_ONCE : at + 1;
        const values: unknown[] = [];
        for (; at < to; at++) for (const column of columns) values.push(rows[at]![column]);
        written += statement.run(values).changes;
      }
      return written;
    };
  }

  /** Every table of the desk's own that rows are kept in, with the columns that hold text and those of its key. */
  textColumns(): readonly {
    readonly table: string;
    readonly text: readonly string[];
    readonly key: readonly string[];
    readonly hasRowid: boolean;
  }[] {
    const tables = this.#prepare(
      "select name, wr from pragma_table_list where schema = 'main' and type = 'table' and name not like 'sqlite_%' order by name",
    ).all() as { name: string; wr: 0 | 1 }[];
    return tables.map(({ name, wr }) => {
      const columns = this.#prepare("select name, type, pk from pragma_table_info(?) order by cid").all(
        name,
      ) as {
        name: string;
        type: string;
        pk: number;
      }[];
      return {
        table: name,
        text: columns.filter((c) => /text/i.test(c.type)).map((c) => c.name),
        key: columns.filter((c) => c.pk > 0).map((c) => c.name),
        hasRowid: wr === 0,
      };
    });
  }

  /** Bring what is in the log into the file and empty the log: what was taken out stands there no more. Says whether it could. */
  emptyLog(): boolean {
    const [done] = this.#native.pragma("wal_checkpoint(TRUNCATE)") as { busy: number }[];
    return done?.busy === 0;
  }

  /** Write the file anew: what was deleted before deleting overwrote stands nowhere in it any more. Blocks everybody meanwhile. */
  vacuum(): void {
    this.#noting(() => this.#native.exec("VACUUM"));
  }

  /** Everything in `work` or nothing of it. Inside another transaction it is a savepoint. */
  transaction<T>(work: () => T): T {
    const depth = this.#depth;
    this.#noting(() => this.#prepare(depth === 0 ? "BEGIN IMMEDIATE" : `SAVEPOINT s${depth}`).run());
    this.#depth = depth + 1;
    try {
      const result = work();
      this.#prepare(depth === 0 ? "COMMIT" : `RELEASE s${depth}`).run();
      if (depth === 0) this.#well();
      return result;
    } catch (error) {
      this.noteTrouble(error);
      // A full disk may have rolled everything back already.
      if (this.#native.inTransaction) {
        if (depth === 0) this.#prepare("ROLLBACK").run();
        else {
          this.#prepare(`ROLLBACK TO s${depth}`).run();
          this.#prepare(`RELEASE s${depth}`).run();
        }
      }
      throw error;
    } finally {
      this.#depth = depth;
    }
  }

  /** Throws when a page of the file is damaged or a reference leads nowhere. */
  checkIntegrity(): void {
    const [result] = this.#native.pragma("integrity_check") as { integrity_check: string }[];
    if (result?.integrity_check !== "ok")
      throw new Error(`The database is damaged: ${result?.integrity_check}`);
    const orphans = this.#native.pragma("foreign_key_check") as Row[];
    if (orphans.length > 0) throw new Error(`${orphans.length} rows refer to rows that do not exist.`);
  }

  close(): void {
    this.#native.close();
  }

  #prepare(sql: string): Database.Statement {
    let statement = this.#statements.get(sql);
    if (!statement) {
      statement = this.#native.prepare(sql);
      this.#statements.set(sql, statement);
    }
    return statement;
  }
}
