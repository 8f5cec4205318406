import { totalmem } from "node:os";
import { sql as raw } from "kysely";
import type { Logger } from "pino";
import { fold } from "../../core/condition/operators.ts";
import { ColumnStore, type ListedLead } from "../../core/lead/column-store.ts";
import { LISTED_BY, SEPARATOR } from "../../core/lead/columns.ts";
import type { Sql } from "../db/sql.ts";

/** So many leads are read in one stretch while it fills, and as many are caught up with before a question is answered. */
const AT_ONCE = 2_000;
const CAUGHT_UP = 5_000;
/** Between two stretches others get their turn (ms). */
const BREAK = 5;
/** Of the machine's memory so much may go to it, at so many bytes a lead: ten million leads on a machine of eight gigabytes. */
const SHARE = 1 / 4;
const A_LEAD = 200;
/** More leads than that are not kept in memory: the database answers then. */
const MOST = Math.floor((totalmem() * SHARE) / A_LEAD);
const IN_ONE = 400;

const OWN = ["id", "place", "ownerId", "createdAt", "lastActivityAt"] as const;

/**
 * The column store of all leads, filled while the desk runs and kept up with its log before each question. Who asks while it
 * is not whole, or too far behind, gets nothing, and asks the database.
 */
export class Columns {
  readonly #sql: Sql;
  readonly #log: Logger | null;
  #store = new ColumnStore();
  /** Up to which event, and which lead that is gone, it has come. */
  #upTo = 0;
  #gone = 0;
  /** Where filling goes on; null once it is whole. */
  #next: { readonly at: number; readonly id: string } | null = { at: -1, id: "" };
  #handle: NodeJS.Timeout | null = null;
  #stopped = true;

  constructor(sql: Sql, log: Logger | null = null) {
    this.#sql = sql;
    this.#log = log;
  }

  start(): void {
    this.#stopped = false;
    this.#upTo = this.#last();
    this.#gone = this.#lastGone();
    // Not counted: among ten million that takes seconds, and whether there are more than that is all one asks.
    if (this.#sql.all(this.#sql.q.selectFrom("leads").select("id").limit(1).offset(MOST)).length > 0) return;
    this.#soon();
  }

  stop(): void {
    this.#stopped = true;
    if (this.#handle) clearTimeout(this.#handle);
  }

  /** The store as of now; null while it is not whole. */
  now(): ColumnStore | null {
    if (this.#stopped || this.#next) return null;
    if (this.#last() - this.#upTo > CAUGHT_UP) {
      // A list was loaded: it is read beside everything else.
      this.#soon();
      return null;
    }
    this.#follow(CAUGHT_UP);
    return this.#store;
  }

  #soon(): void {
    if (this.#handle) return;
    this.#handle = setTimeout(() => {
      this.#handle = null;
      if (this.#stopped) return;
      try {
        if (this.#next) this.#fill();
        else this.#follow(AT_ONCE);
        if (this.#next || this.#last() > this.#upTo) this.#soon();
      } catch (error) {
        // The desk goes on without them.
        this.#stopped = true;
        this.#log?.error(
          { err: error },
          "leads could not be read into memory; the database answers until a restart",
        );
      }
    }, BREAK);
    this.#handle.unref();
  }

  #last(): number {
    const [row] = this.#sql.all(this.#sql.q.selectFrom("events").select((eb) => eb.fn.max("n").as("n")));
    return Number(row?.n ?? 0);
  }

  #lastGone(): number {
    const [row] = this.#sql.all(this.#sql.q.selectFrom("leadsGone").select((eb) => eb.fn.max("n").as("n")));
    return Number(row?.n ?? 0);
  }

  #columns() {
    return this.#sql.q.selectFrom("leads").select([...OWN, ...LISTED_BY]);
  }

  /** The next leads in the order of the index that holds all of this; what moves meanwhile is met by its events. */
  #fill(): void {
    const { at, id } = this.#next!;
    const rows = this.#sql.all(
      this.#columns()
        .where(raw<boolean>`(leads."lastActivityAt", leads.id) > (${at}, ${id})`)
        .orderBy("lastActivityAt")
        .orderBy("id")
        .limit(AT_ONCE),
    );
    this.#put(rows);
    const last = rows.at(-1);
    this.#next = rows.length < AT_ONCE || !last ? null : { at: last.lastActivityAt, id: last.id };
  }

  /** Read anew whatever has happened since, of so many events at most. */
  #follow(most: number): void {
    const { q } = this.#sql;
    const gone = this.#sql.all(
      q.selectFrom("leadsGone").selectAll().where("n", ">", this.#gone).orderBy("n"),
    );
    for (const { n, leadId, upTo } of gone) {
      this.#store.remove(leadId);
      // Numbers of events that went with it are given again.
      this.#upTo = Math.min(this.#upTo, upTo);
      this.#gone = n;
    }
    const until = Math.min(this.#last(), this.#upTo + most);
    if (until <= this.#upTo) return;
    const moved = this.#sql
      .all(
        q
          .selectFrom("events")
          .select("leadId")
          .distinct()
          .where("n", ">", this.#upTo)
          .where("n", "<=", until),
      )
      .map(({ leadId }) => leadId);
    for (let i = 0; i < moved.length; i += IN_ONE)
      this.#put(this.#sql.once(this.#columns().where("id", "in", moved.slice(i, i + IN_ONE))));
    this.#upTo = until;
  }

  #put(rows: readonly Omit<ListedLead, "cadences">[]): void {
    const runs = new Map<string, string[]>();
    for (let i = 0; i < rows.length; i += IN_ONE) {
      const ids = rows.slice(i, i + IN_ONE).map(({ id }) => id);
      for (const { leadId, cadenceId } of this.#sql.once(
        this.#sql.q.selectFrom("cadenceLeads").select(["leadId", "cadenceId"]).where("leadId", "in", ids),
      ))
        runs.set(leadId, [...(runs.get(leadId) ?? []), fold(cadenceId)]);
    }
    for (const row of rows) {
      const inThese = runs.get(row.id);
      const cadences = inThese ? `${SEPARATOR}${inThese.join(SEPARATOR)}${SEPARATOR}` : null;
      this.#store.put({ ...row, ownerId: row.ownerId === null ? null : fold(row.ownerId), cadences });
    }
  }
}
