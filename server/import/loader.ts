import { blockingKeys } from "../../core/contact/likely.ts";
import { claims } from "../../core/lead/lead.ts";
import { unpackLead } from "../../core/lead/pack.ts";
import type { Setup } from "../../core/policy/policy.ts";
import { type Committer, committer } from "../commit.ts";
import { Sql } from "../db/sql.ts";
import { idMaker } from "../ids.ts";
import { identityOf, Looker } from "../look/looker.ts";
import { type PreparedRow, prepareRows } from "./prepare.ts";
import type { RowsOf } from "./read-rows.ts";
import { type Match, rowTaker } from "./take-row.ts";

/** Loads a list that is only kept, in a thread and on a database connection of its own, so that the desk goes on. */

export interface LoadJob {
  readonly importId: string;
  readonly database: string;
  readonly rows: RowsOf;
  readonly setup: Setup;
  /** How far the desk's clock is ahead of the machine's (ms). */
  readonly ahead: number;
  /** Rows whose leads can be found already. */
  readonly indexed: number;
}

/** One transaction lasts no longer (ms): whoever else wants to write waits for it. */
const LONGEST = 90;
/**
 * What leads are found by is written in bulk after so many rows: sorted, it touches each page of the index once and
 * not a thousand times. Until then these leads are found here and nowhere else, for about a second.
 */
const FOUND_AFTER = 10_000;
const HOUR = 3_600_000;

/** Work the whole list. `told` hears of each transaction once it is on disk; `stopped` is asked before each. */
export async function loadRows(job: LoadJob, told: () => void, stopped: () => boolean): Promise<void> {
  const sql = await Sql.open(job.database, { durable: "in time", cacheMb: 40, references: false });
  try {
    const clock = { now: () => Date.now() + job.ahead };
    const looker = new Looker(sql, clock, idMaker(clock), job.setup);
    const load = new Load(job, sql, looker, clock.now);
    load.writeFoundOf(job.indexed, job.rows.from - 1);
    for await (const batch of prepareRows(job)) {
      for (let at = 0; at < batch.length && !stopped(); told()) at += load.slice(batch, at);
      if (stopped()) return;
    }
    load.writeFound();
  } finally {
    sql.close();
  }
}

const byFirst = (a: readonly [string, string], b: readonly [string, string]) =>
  a[0] < b[0] ? -1 : a[0] > b[0] ? 1 : 0;

class Load {
  readonly #job: LoadJob;
  readonly #sql: Sql;
  readonly #now: () => number;
  readonly #looker: Looker;
  readonly #committer: Committer;
  readonly #taker;
  readonly #arrived;
  readonly #progress;
  readonly #pending = new Map<string, string>();
  #keys: [key: string, leadId: string][] = [];
  #since = 0;
  #row: number;

  constructor(job: LoadJob, sql: Sql, looker: Looker, now: () => number) {
    this.#job = job;
    this.#sql = sql;
    this.#now = now;
    this.#row = job.rows.from - 1;
    const { q } = sql;
    this.#looker = looker;
    this.#committer = committer(sql, looker, { keysLater: true });
    this.#taker = rowTaker(sql, looker, this.#committer.commit);
    this.#arrived = sql.hot(
      q
        .insertInto("arrivals")
        .values({ sourceId: "", hour: 0, n: 1 })
        .onConflict((c) =>
          c
            .columns(["sourceId", "hour"])
            .doUpdateSet((eb) => ({ n: eb("arrivals.n", "+", eb.ref("excluded.n")) })),
        ),
    );
    this.#progress = sql.hot(
      q
        .updateTable("imports")
        .set((eb) => ({
          done: 0,
          made: eb("made", "+", 0),
          joined: eb("joined", "+", 0),
          rejected: eb("rejected", "+", 0),
        }))
        .where("id", "=", ""),
    );
  }

  /** Rows from `at` for as long as a transaction may last, with how far they have come. Gives how many. */
  slice(batch: readonly PreparedRow[], at: number): number {
    const { importId, rows } = this.#job;
    const tally = { made: 0, joined: 0, rejected: 0 };
    const until = performance.now() + LONGEST;
    let n = 0;
    this.#sql.transaction(() => {
      do {
        const row = batch[at + n++]!;
        this.#row = row.row;
        if ("reason" in row) {
          this.#taker.refuse(importId, row);
          tally.rejected++;
          continue;
        }
        const match = this.#match(row.ways);
        if (match) {
          const plan = this.#taker.take({ importId, source: rows.source, route: false }, row, match);
          this.#pend(plan.leadId, claims(plan.after), blockingKeys(identityOf(plan.after)));
          tally.joined++;
          continue;
        }
        const { fresh } = row;
        this.#committer.writeNew(fresh);
        this.#taker.note(importId, row.row, fresh.row.id, true);
        this.#pend(fresh.row.id, fresh.claims, fresh.keys);
        tally.made++;
      } while (at + n < batch.length && performance.now() < until);
      const came = tally.made + tally.joined;
      if (came > 0) this.#arrived.run(rows.source.id, Math.floor(this.#now() / HOUR) * HOUR, came);
      this.#progress.run(this.#row, tally.made, tally.joined, tally.rejected, importId);
    });
    this.#since += n;
    if (this.#since >= FOUND_AFTER) this.writeFound();
    return n;
  }

  /** The lead that surely is the person of a row, among those just loaded too. */
  #match(ways: readonly string[]): Match | null {
    for (const way of ways) {
      const leadId = this.#pending.get(way);
      if (leadId) return { leadId, on: way.includes("@") ? "mail address" : "phone number" };
    }
    return this.#looker.match(ways);
  }

  #pend(leadId: string, values: readonly string[], keys: readonly string[]): void {
    for (const value of values) if (!this.#pending.has(value)) this.#pending.set(value, leadId);
    for (const key of keys) this.#keys.push([key, leadId]);
  }

  /** Write what the leads of the rows worked since are found by, a transaction's worth at a time. */
  writeFound(): void {
    this.#inTurn([...this.#pending].sort(byFirst), ([value, leadId]) =>
      this.#committer.writeFound(leadId, [value], []),
    );
    this.#inTurn(this.#keys.sort(byFirst), ([key, leadId]) => this.#committer.writeFound(leadId, [], [key]));
    const { q } = this.#sql;
    this.#sql.run(q.updateTable("imports").set({ indexed: this.#row }).where("id", "=", this.#job.importId));
    this.#pending.clear();
    this.#keys = [];
    this.#since = 0;
  }

  #inTurn<T>(list: readonly T[], write: (one: T) => void): void {
    for (let at = 0; at < list.length; ) {
      const until = performance.now() + LONGEST;
      this.#sql.transaction(() => {
        do write(list[at++]!);
        while (at < list.length && (at % 200 !== 0 || performance.now() < until));
      });
    }
  }

  /** Catch up on rows that were loaded before a restart and could not be found yet. */
  writeFoundOf(from: number, to: number): void {
    if (from >= to) return;
    const { q } = this.#sql;
    const leads = q
      .selectFrom("importRows")
      .innerJoin("leads", "leads.id", "importRows.leadId")
      .select("leads.leadJson")
      .where("importRows.importId", "=", this.#job.importId)
      .where("importRows.row", ">", from)
      .where("importRows.row", "<=", to);
    for (const { leadJson } of this.#sql.all(leads)) {
      const lead = unpackLead(leadJson);
      this.#pend(lead.id, claims(lead), blockingKeys(identityOf(lead)));
    }
    this.writeFound();
  }
}
