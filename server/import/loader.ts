import { blockingKeys } from "../../core/contact/likely.ts";
import { join } from "../../core/desk/same.ts";
import type { EventData } from "../../core/lead/events.ts";
import { claims, type Lead } from "../../core/lead/lead.ts";
import { unpackLead } from "../../core/lead/pack.ts";
import { Sql } from "../db/sql.ts";
import { type Committer, committer } from "../engine/commit.ts";
import { identityOf, Looker } from "../engine/looker.ts";
import { idMaker } from "../ids.ts";
import { batchesOf } from "./batches.ts";
import type { LoadJob } from "./jobs.ts";
import {
  FoundPairs,
  type FreshLead,
  type Packed,
  type PackedFound,
  type PackedRows,
  Unpacker,
  unpackPairs,
} from "./packed.ts";
import { leadsOf } from "./slices.ts";
import { type Match, type NotedRow, rowTaker } from "./take-row.ts";

/** One transaction lasts no longer (ms): whoever else wants to write waits for it. */
const LONGEST = 90;
const HOUR = 3_600_000;

/** Work the whole list. `told` hears of each transaction once it is on disk; `stopped` is asked before each. */
export async function loadRows(job: LoadJob, told: () => void, stopped: () => boolean): Promise<void> {
  const batches = batchesOf<Packed>({ prepare: job });
  const sql = await Sql.open(job.database, { durable: "in time", cacheMb: 12, references: false });
  try {
    const clock = { now: () => Date.now() + job.ahead };
    const looker = new Looker(sql, clock, idMaker(clock), job.setup);
    const load = new Load(job, sql, looker, clock.now);
    load.writeFoundOf(job.indexed, job.rows.from - 1);
    for await (const { packs, found } of batches) {
      for (let at = 0; at < packs.length && !stopped(); told()) at += load.slice(packs, at);
      if (stopped()) return;
      if (found) load.writeFound(found);
    }
  } finally {
    sql.close();
  }
}

/** What the desk knows of numbers and addresses; null of those that several people share. */
type MatchByValue = ReadonlyMap<string, Match | null>;

/** The loading itself. Rows must be given in their order, and what they are found by after them. */
export class Load {
  readonly #job: LoadJob;
  readonly #sql: Sql;
  readonly #now: () => number;
  readonly #looker: Looker;
  readonly #committer: Committer;
  readonly #taker;
  readonly #arrived;
  readonly #progress;
  /**
   * By what the leads written last are surely found. Until that is written too they are found here and nowhere else, for
   * a second or two.
   */
  readonly #pending = new Map<string, string>();
  /** By what leads are found that were known before and learned more. */
  readonly #learned = new FoundPairs();
  /** Leads that rows would have begun, had nobody known the person. */
  readonly #never = new Set<string>();
  /** New leads of the last rows, not written yet. */
  #fresh: FreshLead[] = [];
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

  /** Packs from `at` for as long as a transaction may last, with how far they have come. Gives how many. */
  slice(packs: readonly PackedRows[], at: number): number {
    const { importId, rows } = this.#job;
    const until = performance.now() + LONGEST;
    const noted: NotedRow[] = [];
    let rejected = 0;
    let n = at;
    this.#sql.transaction(() => {
      do rejected += this.#takePack(new Unpacker(packs[n++]!), noted);
      while (n < packs.length && performance.now() < until);
      this.#taker.note(importId, noted);
      if (noted.length > 0)
        this.#arrived.run(rows.source.id, Math.floor(this.#now() / HOUR) * HOUR, noted.length);
      const made = noted.reduce((sum, [, , fresh]) => sum + fresh, 0);
      this.#progress.run(this.#row, made, noted.length - made, rejected, importId);
    });
    return n - at;
  }

  /** Work the rows of one pack, noting what became of each. Gives how many could not be understood. */
  #takePack(pack: Unpacker, noted: NotedRow[]): number {
    const values = pack.rows.map((_, i) => pack.values(i));
    // Of all of them it is asked at once who is known.
    const known = this.#looker.matches(values.flat());
    let rejected = 0;
    for (let i = 0; i < pack.rows.length; i++) {
      const one = this.#take(pack, i, values[i]!, known);
      if (one) noted.push(one);
      else rejected++;
    }
    this.#writeFresh();
    this.#row = pack.rows.at(-1)!;
    return rejected;
  }

  /** Work one row. Gives the lead it became part of; null for one that could not be understood. */
  #take(pack: Unpacker, at: number, values: readonly string[], known: MatchByValue): NotedRow | null {
    const { importId, rows } = this.#job;
    const row = pack.rows[at]!;
    const match = this.#match(values, known);
    if (match) {
      const { facts } = pack.data(at) as EventData["inquiry"];
      // It may be one of those.
      this.#writeFresh();
      const plan = this.#taker.take({ importId, source: rows.source, route: false }, { row, facts }, match);
      this.#never.add(pack.leadId(at));
      this.#learn(plan.after);
      for (const value of claims(plan.after)) this.#pending.set(value, plan.leadId);
      return [row, plan.leadId, 0];
    }
    const bad = pack.bad(at);
    if (bad) {
      this.#taker.refuse(importId, bad);
      return null;
    }
    const fresh = pack.fresh(at);
    this.#fresh.push(fresh);
    for (const value of values) this.#pending.set(value, fresh.row.id);
    return [row, fresh.row.id, 1];
  }

  #writeFresh(): void {
    this.#committer.writeNew(this.#fresh);
    this.#fresh = [];
  }

  /** The lead that surely is the person of a row, among those just loaded too. */
  #match(ways: readonly string[], known: MatchByValue): Match | null {
    for (const way of ways) {
      const match = known.get(way);
      if (match) return match;
      const leadId = match === null ? undefined : this.#pending.get(way);
      if (leadId) return { leadId, on: way.includes("@") ? "mail address" : "phone number" };
    }
    return null;
  }

  #learn(lead: Lead): void {
    this.#learned.add(lead.id, claims(lead), blockingKeys(identityOf(lead)));
  }

  /** Write by what the leads of the rows worked since are found, a transaction's worth at a time. */
  writeFound({ values, keys }: PackedFound): void {
    const written = (text: string) => unpackPairs(text).filter(([, leadId]) => !this.#never.has(leadId));
    this.#inTurn(values, (text) => {
      // Somebody inquired since their row was read: nobody knew them then.
      for (const [value, leadId] of this.#committer.writeValues(written(text))) this.#joinTo(value, leadId);
    });
    this.#inTurn(keys, (text) => this.#committer.writeKeys(written(text)));
    this.#writeLearned();
    this.#pending.clear();
    this.#never.clear();
  }

  #writeLearned(): void {
    const { values, keys } = this.#learned.take();
    this.#inTurn(values, (text) => void this.#committer.writeValues(unpackPairs(text)));
    this.#inTurn(keys, (text) => this.#committer.writeKeys(unpackPairs(text)));
    const { q } = this.#sql;
    this.#sql.run(q.updateTable("imports").set({ indexed: this.#row }).where("id", "=", this.#job.importId));
  }

  #inTurn<T>(list: readonly T[], write: (one: T) => void): void {
    for (let at = 0; at < list.length; ) {
      const until = performance.now() + LONGEST;
      this.#sql.transaction(() => {
        do write(list[at++]!);
        while (at < list.length && performance.now() < until);
      });
    }
  }

  /** Somebody inquired while their lead from the list could not be found yet: the two are joined. */
  #joinTo(value: string, leadId: string): void {
    const first = this.#looker.match([value]);
    const other = this.#looker.lead(leadId);
    // Joined already by another of its numbers, or a number that several people share.
    if (!first || !other || other.joinedTo) return;
    const world = this.#looker.look(this.#looker.survivor(first.leadId));
    // A list that is only kept opens nothing again: whom to give it to is for the desk to say, not for this thread.
    if (world.lead?.closed) return;
    const decided = join(world, other, { kind: "desk" });
    if (!decided.ok) return;
    this.#committer.commit(decided.first);
    this.#committer.commit(decided.second);
    this.#learn(decided.second.after);
  }

  /** Catch up on rows that were loaded before a restart and could not be found yet. */
  writeFoundOf(from: number, to: number): void {
    if (from >= to) return;
    const { q } = this.#sql;
    // Read past the looker, which would remember them all.
    const read = this.#sql.hot(q.selectFrom("leads").select("leadJson").where("id", "=", ""));
    for (const [row, leadId] of leadsOf(this.#sql, this.#job.importId)) {
      const found = row > from && row <= to ? read.get(leadId) : undefined;
      if (found) this.#learn(unpackLead(found.leadJson));
    }
    this.#writeLearned();
  }
}
