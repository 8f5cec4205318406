import { sql as raw, type Selectable, type SqlBool } from "kysely";
import { entryOf, kindsWith, type LeadEvent, takenBackBy } from "../../core/lead/events.ts";
import { gapsOf } from "../../core/search/near.ts";
import { namedBy, ownText } from "../../core/search/pieces.ts";
import { plain } from "../../core/search/plain.ts";
import type { EventRow } from "../db/schema.ts";
import type { Sql } from "../db/sql.ts";
import type { LeadCache } from "../read/lead-cache.ts";

/** The counter that says up to which event (its `n`) the index has come. */
const UP_TO = "search-up-to";
/** So much of one thing that was written is searched (characters). */
const LONGEST = 20_000;
const WROTE: ReadonlySet<string> = new Set(kindsWith("wrote"));
const AT_ONCE = 200;

/**
 * The index of what can be found. It follows the log of events: what it has taken in and how far it has come are
 * written together, so that a process that was killed goes on where it was, and an index that was emptied fills
 * itself again while the desk runs.
 */
export class SearchIndex {
  readonly #sql: Sql;
  readonly #leads: LeadCache;
  readonly #after;
  readonly #upTo;
  readonly #mark;
  readonly #own;
  readonly #insert;

  constructor(sql: Sql, leads: LeadCache) {
    this.#sql = sql;
    this.#leads = leads;
    this.#after = sql.hot(
      sql.q
        .selectFrom("events")
        .select(["n", "leadId", "kind", "dataJson"])
        .where("n", ">", 0)
        .orderBy("n")
        .limit(AT_ONCE),
    );
    this.#upTo = sql.hot(sql.q.selectFrom("counters").select("value").where("name", "=", UP_TO));
    this.#mark = sql.hot(
      sql.q
        .insertInto("counters")
        .values({ name: UP_TO, value: 0 })
        .onConflict((c) => c.column("name").doUpdateSet((eb) => ({ value: eb.ref("excluded.value") }))),
    );
    this.#own = sql.hot(sql.q.selectFrom("searchOwn").select(["own", "named"]).where("leadId", "=", ""));
    this.#insert = {
      searchKnown: sql.inserter("searchKnown", ["rowid", "text"]),
      searchWrote: sql.inserter("searchWrote", ["rowid", "text"]),
    };
  }

  /** How many events it is behind the log; events that were wiped may count. */
  behind(): number {
    const last = this.#sql.get(this.#sql.q.selectFrom("events").select((eb) => eb.fn.max("n").as("n")));
    return Math.max(0, Number(last?.n ?? 0) - this.#reached());
  }

  /** Take in what has happened, as much as `events` (about); gives whether anything is left. */
  follow(events: number): boolean {
    for (let taken = 0; taken < events; ) {
      const n = this.#slice();
      if (n < AT_ONCE) return false;
      taken += n;
    }
    return true;
  }

  #reached(): number {
    return this.#upTo.get(UP_TO)?.value ?? 0;
  }

  #slice(): number {
    const rows = this.#after.all(this.#reached(), AT_ONCE);
    if (rows.length === 0) return 0;
    this.#sql.transaction(() => {
      this.#take(rows);
      this.#mark.run(UP_TO, rows.at(-1)!.n);
    });
    return rows.length;
  }

  #take(rows: readonly Selectable<Pick<EventRow, "n" | "leadId" | "kind" | "dataJson">>[]): void {
    const touched = new Set<string>();
    for (const { n, leadId, kind, dataJson } of rows) {
      touched.add(leadId);
      if (kind !== "undone" && !WROTE.has(kind)) continue;
      const event = { kind, data: JSON.parse(dataJson) } as LeadEvent;
      for (const actId of takenBackBy(event)) this.#unsay(leadId, actId);
      const wrote = entryOf(event).wrote?.(event.data);
      if (wrote?.trim()) this.#put("searchWrote", leadId, n, plain(wrote.slice(0, LONGEST)));
    }
    for (const leadId of touched) this.#know(leadId);
  }

  /** Take in everything of one lead anew, after its events were rewritten. Call it inside their transaction. */
  again(leadId: string): void {
    forgetInSearch(this.#sql, leadId);
    const own = this.#sql.q.selectFrom("events").select(["n", "leadId", "kind", "dataJson"]);
    // Those it has not come to yet come by themselves.
    const rows = own.where("leadId", "=", leadId).where("n", "<=", this.#reached()).orderBy("n");
    this.#take(this.#sql.all(rows));
  }

  #put(table: "searchKnown" | "searchWrote", leadId: string, eventN: number | null, text: string): void {
    const sql = this.#sql;
    const [doc] = sql.all(
      sql.q
        .insertInto("searchDocs")
        .values({ leadId, eventN })
        .onConflict((c) => c.doNothing())
        .returning("n"),
    );
    // A slice that is taken in a second time stands there already.
    if (doc) this.#insert[table]({ rowid: doc.n, text });
  }

  /** What an act that was taken back had written is found no more. */
  #unsay(leadId: string, actId: string): void {
    const { q } = this.#sql;
    const docs = q
      .selectFrom("searchDocs")
      .innerJoin("events", "events.n", "searchDocs.eventN")
      .select("searchDocs.n as n")
      .where("searchDocs.leadId", "=", leadId)
      .where("events.actId", "=", actId);
    for (const { n } of this.#sql.all(docs)) dropDoc(this.#sql, n);
  }

  /** What is known of a lead, where it has changed. */
  #know(leadId: string): void {
    const lead = this.#leads.get(leadId);
    if (!lead) return;
    const own = ownText(lead).slice(0, LONGEST);
    const before = this.#own.get(leadId);
    if (before?.own === own) return;
    if (before) forgetOwn(this.#sql, leadId);
    this.#put("searchKnown", leadId, null, own);
    const named = namedBy(lead);
    const sql = this.#sql;
    sql.run(sql.q.insertInto("searchOwn").values({ leadId, own, named: named.join(" ") }));
    const gaps = named.flatMap((word) => gapsOf(word).map((gap) => ({ gap, word })));
    if (gaps.length > 0)
      sql.run(
        sql.q
          .insertInto("searchGaps")
          .values(gaps.slice(0, 2_000))
          .onConflict((c) => c.doNothing()),
      );
  }
}

function dropDoc(sql: Sql, n: number): void {
  // It stands in one of them; taking what is not there out of the other does nothing.
  for (const table of ["searchKnown", "searchWrote"] as const)
    sql.run(sql.q.deleteFrom(table).where("rowid", "=", n));
  sql.run(sql.q.deleteFrom("searchDocs").where("n", "=", n));
}

/** Take what is known of a lead out of the index, with the words nobody else is named by. */
function forgetOwn(sql: Sql, leadId: string): void {
  const { q } = sql;
  const own = q.selectFrom("searchDocs").select("n").where("leadId", "=", leadId).where("eventN", "is", null);
  for (const { n } of sql.all(own)) dropDoc(sql, n);
  const known = sql.get(q.selectFrom("searchOwn").select("named").where("leadId", "=", leadId));
  sql.run(q.deleteFrom("searchOwn").where("leadId", "=", leadId));
  for (const word of known?.named.split(" ") ?? []) {
    const gaps = gapsOf(word);
    if (gaps.length === 0) continue;
    const other = q
      .selectFrom("searchKnown")
      .select("rowid")
      .where(raw<SqlBool>`"searchKnown" match ${`"${word}"`}`)
      .limit(1);
    if (sql.once(other).length === 0)
      sql.run(q.deleteFrom("searchGaps").where("gap", "in", gaps).where("word", "=", word));
  }
}

/** Take everything of a lead out of the index. Call it inside the transaction that wipes the lead, after its events are gone. */
export function forgetInSearch(sql: Sql, leadId: string): void {
  // The number of an event that was wiped may be given again.
  sql.run(
    sql.q
      .updateTable("counters")
      .set({ value: raw<number>`min(value, (select ifnull(max(n), 0) from events))` })
      .where("name", "=", UP_TO),
  );
  forgetOwn(sql, leadId);
  for (const { n } of sql.all(sql.q.selectFrom("searchDocs").select("n").where("leadId", "=", leadId)))
    dropDoc(sql, n);
}
