import { mkdirSync } from "node:fs";
import { dirname } from "node:path";
import Database from "better-sqlite3";
import { type Compilable, Kysely, Migrator, SqliteDialect } from "kysely";
import { migrations } from "./migrations.ts";
import type { Schema } from "./schema.ts";

type Row = Record<string, unknown>;

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
   * not look up the lead of every row again: for writing in bulk what has just been made.
   */
  static async open(
    path: string,
    {
      durable = true,
      cacheMb = 128,
      references = true,
    }: { durable?: boolean | "in time"; cacheMb?: number; references?: boolean } = {},
  ): Promise<Sql> {
    if (path !== ":memory:") mkdirSync(dirname(path), { recursive: true });
    const native = new Database(path);
    native.pragma("journal_mode = WAL");
    native.pragma(`synchronous = ${durable === "in time" ? "NORMAL" : durable ? "FULL" : "OFF"}`);
    // A table may have to be made anew while others refer to it.
    native.pragma("foreign_keys = OFF");
    native.pragma("busy_timeout = 5000");
    native.pragma(`cache_size = -${cacheMb * 1024}`);
    // Moved back into the file every 32 MB instead of every 4: pages written often are written once.
    native.pragma("wal_autocheckpoint = 8000");
    const sql = new Sql(native);
    await sql.#migrate();
    native.pragma(`foreign_keys = ${references ? "ON" : "OFF"}`);
    return sql;
  }

  /** Bring the tables to their newest shape: all that is missing, or nothing when one step fails. */
  async #migrate(): Promise<void> {
    const migrator = new Migrator({ db: this.q, provider: { getMigrations: async () => migrations } });
    const known = await migrator.getMigrations();
    if (known.every((m) => m.executedAt)) return;
    this.#native.exec("BEGIN IMMEDIATE");
    const { error } = await migrator.migrateToLatest();
    if (!error) this.#native.exec("COMMIT");
    else if (this.#native.inTransaction) this.#native.exec("ROLLBACK");
    if (error) throw error;
  }

  /** All rows of a query. */
  all<T>(query: Compilable<T>): T[] {
    const { sql, parameters } = query.compile();
    return this.#prepare(sql).all(...parameters) as T[];
  }

  /** The rows of a query one after the other, none kept. Nothing else may be asked of this connection meanwhile. */
  iterate<T>(query: Compilable<T>): IterableIterator<T> {
    const { sql, parameters } = query.compile();
    return this.#native.prepare(sql).iterate(...parameters) as IterableIterator<T>;
  }

  /** The first row of a query, or undefined. */
  get<T>(query: Compilable<T>): T | undefined {
    const { sql, parameters } = query.compile();
    return this.#prepare(sql).get(...parameters) as T | undefined;
  }

  /** Run a writing query; gives the number of rows changed. */
  run(query: Compilable<unknown>): number {
    const { sql, parameters } = query.compile();
    return this.#prepare(sql).run(...parameters).changes;
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
      all: (...values) => statement.all(...values) as T[],
      get: (...values) => statement.get(...values) as T | undefined,
      run: (...values) => statement.run(...values),
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

  /** Everything in `work` or nothing of it. Inside another transaction it is a savepoint. */
  transaction<T>(work: () => T): T {
    const depth = this.#depth;
    this.#prepare(depth === 0 ? "BEGIN IMMEDIATE" : `SAVEPOINT s${depth}`).run();
    this.#depth = depth + 1;
    try {
      const result = work();
      this.#prepare(depth === 0 ? "COMMIT" : `RELEASE s${depth}`).run();
      return result;
    } catch (error) {
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
