import { sql as raw } from "kysely";
import type { BookChange, BookWorld } from "../../core/book/draft.ts";
import type { BookEvent } from "../../core/book/events.ts";
import { allRecordKeys } from "../../core/book/memory.ts";
import type { Rec } from "../../core/book/records.ts";
import type { RecordRow } from "../db/schema.ts";
import type { Sql } from "../db/sql.ts";

/** How many records that share a key are looked at: more would be no likeness. */
const MOST_SHARING = 60;

function stateOf(rec: Rec): RecordRow["state"] {
  if (rec.gone) return "gone";
  if (rec.joinedTo) return "joined";
  return rec.kind === "deal" && rec.closed ? "closed" : "open";
}

/** The columns of a record's row that are derived from it. Shared with `npm run verify`. */
export function recordRow(rec: Rec) {
  const deal = rec.kind === "deal" ? rec : null;
  return {
    id: rec.id,
    kind: rec.kind,
    seq: rec.seq,
    recordJson: JSON.stringify(rec),
    name: rec.name,
    stage: deal?.stage ?? null,
    ownerId: deal?.ownerId ?? null,
    state: stateOf(rec) as RecordRow["state"],
    value: deal?.value ?? null,
    createdAt: rec.createdAt,
    lastActivityAt: rec.lastActivityAt,
  };
}

/** The book of customers on disk: what decisions see of it, and the one place where it is written. */
export class BookStore implements BookWorld {
  readonly #sql: Sql;
  readonly #record;
  readonly #events;
  readonly #ofAct;
  readonly #sharing;
  readonly #insert;
  readonly #update;
  readonly #insertEvent;
  readonly #rewriteEvent;
  readonly #insertKey;
  readonly #removeKey;
  readonly #any;

  constructor(sql: Sql) {
    const { q } = sql;
    this.#sql = sql;
    this.#record = sql.hot(q.selectFrom("records").select("recordJson").where("id", "=", ""));
    this.#events = sql.hot(q.selectFrom("bookEvents").selectAll().where("recordId", "=", "").orderBy("seq"));
    this.#ofAct = sql.hot(q.selectFrom("bookEvents").select("recordId").distinct().where("actId", "=", ""));
    this.#sharing = sql.hot(
      q
        .selectFrom("recordKeys")
        .select("recordId")
        .distinct()
        .where(raw<boolean>`key in (select value from json_each(${""}))`)
        .orderBy("recordId", "desc")
        .limit(1),
    );
    this.#any = sql.hot(q.selectFrom("recordKeys").select("recordId").limit(raw.lit(1)));
    this.#insert = sql.inserter("records", [
      "id",
      "kind",
      "seq",
      "recordJson",
      "name",
      "stage",
      "ownerId",
      "state",
      "value",
      "createdAt",
      "lastActivityAt",
    ]);
    this.#update = sql.hot(
      q
        .updateTable("records")
        .set({
          seq: 0,
          recordJson: "",
          name: "",
          stage: "",
          ownerId: "",
          state: "open",
          value: 0,
          lastActivityAt: 0,
        })
        .where("id", "=", "")
        .where("seq", "=", 0),
    );
    this.#insertEvent = sql.inserter("bookEvents", [
      "id",
      "recordId",
      "record",
      "seq",
      "actId",
      "at",
      "actorJson",
      "kind",
      "dataJson",
    ]);
    this.#rewriteEvent = sql.hot(
      q.updateTable("bookEvents").set({ dataJson: "" }).where("recordId", "=", "").where("seq", "=", 0),
    );
    this.#insertKey = sql.inserter("recordKeys", ["key", "recordId"]);
    this.#removeKey = sql.hot(q.deleteFrom("recordKeys").where("key", "=", "").where("recordId", "=", ""));
  }

  /** Whether nobody is in the book. */
  get isEmpty(): boolean {
    return this.#any.get() === undefined;
  }

  readonly record = (id: string): Rec | null => {
    const row = this.#record.get(id);
    return row ? (JSON.parse(row.recordJson) as Rec) : null;
  };

  readonly events = (id: string): readonly BookEvent[] =>
    this.#events
      .all(id)
      .map(
        ({ n: _n, actorJson, dataJson, ...head }) =>
          ({ ...head, actor: JSON.parse(actorJson), data: JSON.parse(dataJson) }) as BookEvent,
      );

  readonly ofAct = (actId: string): readonly string[] => this.#ofAct.all(actId).map((r) => r.recordId);

  readonly sharing = (keys: readonly string[]): readonly string[] =>
    keys.length === 0 ? [] : this.#sharing.all(JSON.stringify(keys), MOST_SHARING).map((r) => r.recordId);

  readonly dealsOf = (id: string): readonly string[] =>
    this.#sharing.all(JSON.stringify([`deal:${id}`]), 1_000).map((r) => r.recordId);

  contactsOf(companyId: string): Rec[] {
    return this.#sharing
      .all(JSON.stringify([`contact:${companyId}`]), 1_000)
      .flatMap((r) => this.record(r.recordId) ?? []);
  }

  /** Write what an act changes. Call it inside a transaction. */
  write(changes: readonly BookChange[]): void {
    for (const { before, after, events } of changes) {
      const row = recordRow(after);
      if (!before) this.#insert(row);
      else {
        const { seq, recordJson, name, stage, ownerId, state, value, lastActivityAt } = row;
        const { changes: n } = this.#update.run(
          seq,
          recordJson,
          name,
          stage,
          ownerId,
          state,
          value,
          lastActivityAt,
          after.id,
          before.seq,
        );
        if (n !== 1) throw new Error(`Record ${after.id} changed between look and commit.`);
      }
      for (const { actor, data, ...head } of events)
        this.#insertEvent({ ...head, actorJson: JSON.stringify(actor), dataJson: JSON.stringify(data) });
      const had = before ? allRecordKeys(before) : [];
      const has = allRecordKeys(after);
      for (const key of had) if (!has.includes(key)) this.#removeKey.run(key, after.id);
      for (const key of has) if (!had.includes(key)) this.#insertKey({ key, recordId: after.id });
    }
  }

  /** Write a record's events anew, each in the place of the one with its number, and its row as they fold. For taking out who was named. */
  rewrite(before: Rec, after: Rec, events: readonly BookEvent[]): void {
    for (const { seq, data } of events) this.#rewriteEvent.run(JSON.stringify(data), before.id, seq);
    this.write([{ before, after, events: [] }]);
  }

  /** All deals that are open, and those that ended: what the board and its figures are made of. */
  deals(): { readonly open: readonly Rec[]; readonly closed: readonly Rec[] } {
    const { q } = this.#sql;
    const all = q.selectFrom("records").select(["recordJson", "state"]).where("kind", "=", "deal");
    const rows = this.#sql.all(all.where("state", "in", ["open", "closed"]));
    const read = (state: string) =>
      rows.filter((r) => r.state === state).map((r) => JSON.parse(r.recordJson) as Rec);
    return { open: read("open"), closed: read("closed") };
  }

  /** Records of a kind by name, those of a page after `after`, with this in their name. */
  list(
    kind: RecordRow["kind"],
    { like, after, limit }: { like: string; after: string | null; limit: number },
  ): Rec[] {
    const { q } = this.#sql;
    let all = q
      .selectFrom("records")
      .select("recordJson")
      .where("kind", "=", kind)
      .where("state", "in", ["open", "closed"])
      .orderBy(raw`name collate nocase`)
      .orderBy("id")
      .limit(limit);
    if (like)
      all = all.where((eb) =>
        eb(eb.fn<number>("instr", [eb.fn("lower", ["name"]), eb.val(like.toLowerCase())]), ">", 0),
      );
    const last = after === null ? null : this.record(after);
    if (last)
      all = all.where(raw<boolean>`(name collate nocase, id) > (${last.name} collate nocase, ${last.id})`);
    return this.#sql.all(all).map((r) => JSON.parse(r.recordJson) as Rec);
  }

  /** Records of any kind whose name has each of these words in it, what moved last first. */
  named(words: readonly string[], limit: number): Rec[] {
    let all = this.#sql.q
      .selectFrom("records")
      .select("recordJson")
      .where("state", "in", ["open", "closed"])
      .orderBy("lastActivityAt", "desc")
      .limit(limit);
    for (const word of words)
      all = all.where((eb) => eb(eb.fn<number>("instr", [eb.fn("lower", ["name"]), eb.val(word)]), ">", 0));
    return this.#sql.once(all).map((r) => JSON.parse(r.recordJson) as Rec);
  }

  /** Those that were joined to a record. */
  joinedTo(id: string): Rec[] {
    return this.events(id).flatMap((e) => {
      if (e.kind !== "joined") return [];
      const other = this.record(e.data.otherId);
      return other?.joinedTo === id ? [other] : [];
    });
  }

  /** How many open deals stand in each stage. */
  dealsInStages(): Readonly<Record<string, number>> {
    const { q } = this.#sql;
    const rows = this.#sql.all(
      q
        .selectFrom("records")
        .select(["stage", (eb) => eb.fn.countAll<number>().as("n")])
        .where("kind", "=", raw.lit("deal"))
        .where("state", "in", ["open", "closed"])
        .groupBy("stage"),
    );
    return Object.fromEntries(rows.map(({ stage, n }) => [stage ?? "", Number(n)]));
  }

  /** The deals that stand in a stage. */
  dealsInStage(stage: string): string[] {
    const { q } = this.#sql;
    return this.#sql
      .all(
        q
          .selectFrom("records")
          .select("id")
          .where("kind", "=", "deal")
          .where("stage", "=", stage)
          .where("state", "in", ["open", "closed"]),
      )
      .map((r) => r.id);
  }
}
