import { sql as raw, type SqlBool } from "kysely";
import type { TheirWords } from "../../core/lead/event.ts";
import {
  type EventData,
  type EventKind,
  entryOf,
  kindsWith,
  type LeadEvent,
} from "../../core/lead/events.ts";
import type { Lead } from "../../core/lead/lead.ts";
import { unpackLead } from "../../core/lead/pack.ts";
import { BANDS, type Band, bandOf, OPEN_PLACES, placeOf } from "../../core/lead/queue.ts";
import { SHARE_KINDS, type ShareEvent } from "../../core/report/fair-share.ts";
import type { OutboxRow } from "../db/schema.ts";
import type { Sql } from "../db/sql.ts";
import { partOf } from "../intake/part-of.ts";
import type { Delivery } from "../intake/payload.ts";
import { LeadCache } from "./lead-cache.ts";
import type { LeadFilter } from "./lead-filter.ts";
import { testLeads } from "./tests.ts";

export interface MessageState {
  readonly id: string;
  readonly state: OutboxRow["state"];
  readonly channel: string;
  readonly to: string;
  readonly attempts: number;
  readonly sentAt: number | null;
  readonly error: string | null;
}

/** Which parked leads are asked for: by words in what they are found by, by reason, by their next look (epoch ms). */
export interface ParkedFilter {
  readonly text?: string;
  readonly reason?: string;
  readonly dueBefore?: number | null;
  readonly by?: "look" | "lately" | "longest";
}

/** So much of what waits in quarantine is shown (bytes); the original is handed out whole. */
const SHOWN = 16_000;

/** Kinds of event by which somebody says something. */
const THEIR_KINDS = kindsWith("theirs");
/** So many of them are looked through for words of a person. */
const LATELY = 8;
/** So much of what they said last is shown where it is shown in passing (characters). */
const SHOWN_WORDS = 300;

/** How far before all times call-backs are sorted. */
const CALL_BACKS = Number.MAX_SAFE_INTEGER;

/** Which of the queue is asked for: somebody's, what is offered to somebody, or what nobody has; from one source. */
export interface QueueFilter {
  readonly who?: { readonly id: string } | "offered" | "nobody" | undefined;
  readonly sourceId?: string | undefined;
}

/** Leads of one place, from a time (inclusive) to a time (exclusive). */
interface Stretch {
  readonly place: string;
  readonly from: number;
  readonly to: number;
}

/** Leads in stages the desk does not set itself: as the index of just these has it. */
const OWN_STAGES = raw<boolean>`json_extract(leadJson, '$.stage') not in ('New','Being tried','Talking','Handed over')`;

/** Leads that somebody may take now, one person or several. */
const OFFERED = raw<SqlBool>`coalesce(json_extract(leadJson, '$.handOff.state'), '') in ('offered', 'open')`;

/** Questions to the database that change nothing. */
export class Reader {
  readonly #sql: Sql;
  readonly #first;
  readonly #leads: LeadCache;
  readonly #count;
  readonly #theirs;
  readonly #events;

  constructor(sql: Sql, leads = new LeadCache(sql)) {
    this.#sql = sql;
    this.#leads = leads;
    const inPlace = sql.q
      .selectFrom("leads")
      .where("place", "=", "")
      .where("placeAt", ">=", 0)
      .where("placeAt", "<", 0);
    this.#first = sql.hot(inPlace.select(["id", "seq", "placeAt"]).orderBy("placeAt").orderBy("id").limit(1));
    this.#theirs = sql.hot(
      sql.q
        .selectFrom("events")
        .select(["at", "kind", "dataJson"])
        .where("leadId", "=", "")
        .where("kind", "in", THEIR_KINDS)
        .orderBy("seq", "desc")
        .limit(1),
    );
    this.#events = sql.hot(
      sql.q
        .selectFrom("events")
        .selectAll()
        .where("leadId", "=", "")
        .where("seq", ">", 0)
        .orderBy("seq")
        .limit(1),
    );
    this.#count = sql.hot(inPlace.select((eb) => eb.fn.countAll<number>().as("n")));
  }

  /** The stretches of the index by place and time that make up a band. */
  #stretches(band: Band, dayEnd: number): readonly Stretch[] {
    const all = { from: 0, to: Number.MAX_SAFE_INTEGER };
    switch (band) {
      case "answer":
      case "rung":
        return [{ place: band, ...all }];
      case "again":
        return [{ place: "again", ...all, to: dayEnd }];
      case "today":
        return [{ place: "step", ...all, to: dayEnd }];
      case "later":
        return [
          { place: "again", ...all, from: dayEnd },
          { place: "step", ...all, from: dayEnd },
          { place: "idle", ...all },
        ];
    }
  }

  /** The first leads of a band of the queue, what hurts most first. */
  band(band: Band, dayEnd: number, limit: number): Lead[] {
    // Each stretch runs along the index on its own; the few first of each are sorted here.
    const rows = this.#stretches(band, dayEnd).flatMap(({ place, from, to }) =>
      this.#first.all(place, from, to, limit),
    );
    return rows
      .sort((a, b) => a.placeAt - b.placeAt)
      .slice(0, limit)
      .flatMap(({ id, seq }) => this.#leads.get(id, seq) ?? []);
  }

  /** The first leads of a band that fit a filter, in its order, and how many do; tests do not count. */
  filtered(
    band: Band,
    dayEnd: number,
    limit: number,
    { who, sourceId }: QueueFilter,
  ): { readonly items: Lead[]; readonly count: number } {
    const leads: Lead[] = [];
    let count = 0;
    const tests = testLeads(this.#sql, this.#leads);
    for (const { place, from, to } of this.#stretches(band, dayEnd)) {
      let found = this.#sql.q
        .selectFrom("leads")
        .where("place", "=", place)
        .where("placeAt", ">=", from)
        .where("placeAt", "<", to);
      if (sourceId !== undefined) found = found.where("sourceId", "=", sourceId);
      if (who === "nobody") found = found.where("ownerId", "is", null).where((eb) => eb.not(OFFERED));
      if (who === "offered") found = found.where("ownerId", "is", null).where(OFFERED);
      if (typeof who === "object") found = found.where("holderId", "=", who.id);
      const rows = this.#sql.all(found.select(["id", "seq", "placeAt"]).orderBy("placeAt").orderBy("id"));
      count += rows.filter(({ id }) => !tests.has(id)).length;
      leads.push(...rows.slice(0, limit).flatMap(({ id, seq }) => this.#leads.get(id, seq) ?? []));
    }
    return { items: leads.sort((a, b) => placeOf(a).at - placeOf(b).at).slice(0, limit), count };
  }

  /** What a report of shares reads, in the order it happened. Epoch ms, end exclusive. */
  shareEvents(from: number, to: number): ShareEvent[] {
    const rows = this.#sql.all(
      this.#sql.q
        .selectFrom("events")
        .select(["leadId", "kind", "dataJson"])
        .where("kind", "in", SHARE_KINDS)
        .where("at", ">=", from)
        .where("at", "<", to)
        .orderBy("n"),
    );
    const tests = testLeads(this.#sql, this.#leads);
    return rows
      .filter(({ leadId }) => !tests.has(leadId))
      .map(({ dataJson, ...row }) => ({ ...row, data: JSON.parse(dataJson) }) as ShareEvent);
  }

  /** How many leads each band holds; tests do not count. */
  counts(dayEnd: number): Record<Band, number> {
    const count = (band: Band) =>
      this.#stretches(band, dayEnd).reduce(
        (sum, { place, from, to }) => sum + Number(this.#count.get(place, from, to)?.n ?? 0),
        0,
      );
    const tests = [...testLeads(this.#sql, this.#leads).values()].map((lead) =>
      bandOf(placeOf(lead), dayEnd),
    );
    const countOf = (band: Band) => count(band) - tests.filter((b) => b === band).length;
    return Object.fromEntries(BANDS.map((b) => [b, countOf(b)])) as Record<Band, number>;
  }

  /** Open leads that are somebody's, offered to them, or on open call to them among others. */
  theirs(personId: string): Lead[] {
    const { q } = this.#sql;
    const held = q.selectFrom("leads").select("leadJson").where("holderId", "=", personId);
    return [...this.#sql.all(held).map(parse), ...this.#openCallsTo(personId)];
  }

  #openCallsTo(personId: string): Lead[] {
    const called = this.#sql.q
      .selectFrom("leads")
      .select("leadJson")
      .where("place", "in", ["answer", "rung"])
      .where(raw<SqlBool>`json_extract(leadJson, '$.handOff.state') = 'open'`);
    return this.#sql
      .all(called)
      .map(parse)
      .filter((lead) => lead.handOff?.to.includes(personId) && lead.ownerId !== personId);
  }

  /** Leads somebody holds that are due before the day ends, each kind by its time, so many at most; open calls to them first. */
  theirsDue(personId: string, dayEnd: number, limit: number): Lead[] {
    const rows = this.#sql.all(
      this.#sql.q
        .selectFrom("leads")
        .select(["id", "seq"])
        .where("holderId", "=", personId)
        .where((eb) =>
          eb.or([
            eb("place", "in", ["answer", "rung"]),
            eb.and([eb("place", "in", ["again", "step"]), eb("placeAt", "<", dayEnd)]),
          ]),
        )
        .orderBy("placeAt")
        .limit(limit),
    );
    return [...this.#openCallsTo(personId), ...rows.flatMap(({ id, seq }) => this.#leads.get(id, seq) ?? [])];
  }

  /** Leads with a task for somebody, the earliest due first. */
  withTasksOf(personId: string): Lead[] {
    const tasks = this.#sql.q.selectFrom("tasks").select("leadId").where("personId", "=", personId);
    return this.#sql
      .all(tasks.orderBy("dueAt").limit(500))
      .flatMap(({ leadId }) => this.#leads.get(leadId) ?? []);
  }

  /** Open leads of some places, the earliest first. */
  inPlaces(places: readonly Band[], limit: number): Lead[] {
    return places.flatMap((place) =>
      this.#first
        .all(place, 0 - CALL_BACKS, Number.MAX_SAFE_INTEGER, limit)
        .flatMap(({ id, seq }) => this.#leads.get(id, seq) ?? []),
    );
  }

  /** Parked leads as asked for, a page from `after` on, with how many there are, and how many in all. */
  parked(
    limit: number,
    after: number | null,
    { text = "", reason = "", dueBefore = null, by = "look" }: ParkedFilter = {},
  ): { items: Lead[]; next: string | null; found: number; total: number } {
    const { q } = this.#sql;
    const all = q.selectFrom("leads").where("place", "=", "parked");
    let found = all;
    const words = text.trim().toLowerCase();
    if (words) found = found.where((eb) => eb(eb.fn<number>("instr", ["search", eb.val(words)]), ">", 0));
    if (reason) found = found.where(raw<SqlBool>`json_extract(leadJson, '$.parked.reason') = ${reason}`);
    if (dueBefore !== null) found = found.where("placeAt", "<", dueBefore);
    const sorted = {
      look: found.orderBy("placeAt"),
      lately: found.orderBy("lastActivityAt", "desc"),
      longest: found.orderBy("lastActivityAt"),
    }[by];
    const page = sorted
      .select("leadJson")
      .orderBy("id")
      .limit(limit + 1);
    const rows = this.#sql.all(after === null ? page : page.offset(after));
    const count = (of: typeof all) =>
      Number(this.#sql.get(of.select((eb) => eb.fn.countAll<number>().as("n")))?.n ?? 0);
    const total = count(all);
    return {
      items: rows.slice(0, limit).map(parse),
      next: rows.length > limit ? String((after ?? 0) + limit) : null,
      found: found === all ? total : count(found),
      total,
    };
  }

  /** Why leads are parked, the most frequent reasons first. */
  parkedFor(limit = 30): string[] {
    const reason = raw<string>`json_extract(leadJson, '$.parked.reason')`;
    const rows = this.#sql.q
      .selectFrom("leads")
      .select(reason.as("reason"))
      .where("place", "=", "parked")
      .groupBy(reason)
      .orderBy((eb) => eb.fn.countAll(), "desc")
      .limit(limit);
    return this.#sql.all(rows).flatMap((r) => r.reason ?? []);
  }

  /** How many open leads came in between two times, per pair of neighbours of `edges` (epoch ms, latest first). */
  openByAge(edges: readonly number[]): number[] {
    const { q } = this.#sql;
    const tests = [...testLeads(this.#sql, this.#leads).values()].filter((l) => !l.closed && !l.parked);
    return edges.map((to, i) => {
      let open = q
        .selectFrom("leads")
        .select((eb) => eb.fn.countAll<number>().as("n"))
        .where("place", "in", OPEN_PLACES)
        .where("createdAt", "<=", to);
      const from = edges[i + 1];
      if (from !== undefined) open = open.where("createdAt", ">", from);
      const tested = tests.filter((l) => l.createdAt <= to && (from === undefined || l.createdAt > from));
      return Number(this.#sql.get(open)?.n ?? 0) - tested.length;
    });
  }

  /** What parked leads did that rules handled since a time, the latest first. */
  wakings(from: number, limit = 5_000): { leadId: string; at: number; data: EventData["woken"] }[] {
    const { q } = this.#sql;
    const woken = q
      .selectFrom("events")
      .select(["leadId", "at", "dataJson"])
      // A literal, so that the index of what woke is used.
      .where("kind", "=", raw.lit("woken"))
      .where("at", ">=", from)
      .orderBy("at", "desc")
      .limit(limit);
    return this.#sql.all(woken).map(({ dataJson, ...row }) => ({ ...row, data: JSON.parse(dataJson) }));
  }

  /** Leads by filter, newest first; `next` continues the list. */
  leads({ q, filter, sort = "recent", limit, cursor, theirs }: LeadFilter): {
    items: Lead[];
    next: string | null;
  } {
    const column = sort === "created" ? "createdAt" : "lastActivityAt";
    let query = this.#sql.q
      .selectFrom("leads")
      .select(["leadJson", "id", column])
      .orderBy(column, "desc")
      .orderBy("id", "desc")
      .limit(limit + 1);
    if (q?.trim()) query = query.where(raw<SqlBool>`instr(search, ${q.trim().toLowerCase()}) > 0`);
    if (filter === "open")
      query = query
        .where("place", "not in", ["closed", "customer"])
        .where(raw<SqlBool>`json_extract(leadJson, '$.customer') is null`);
    if (filter === "closed") query = query.where("place", "=", "closed");
    if (filter === "waiting" || filter === "rung" || filter === "answered")
      query = query
        .where(raw<SqlBool>`json_extract(leadJson, '$.bell.state') = ${filter}`)
        .where("place", "!=", "closed");
    if (filter === "listed")
      query = query.where(raw<SqlBool>`json_extract(leadJson, '$.listed') is not null`);
    if (theirs) query = query.where((eb) => eb.or([eb("ownerId", "=", theirs), eb("holderId", "=", theirs)]));
    const after = cursor ? /^(\d+)~(.+)$/.exec(cursor) : null;
    if (after) {
      const [, time, id] = after;
      query = query.where((eb) =>
        eb.or([eb(column, "<", Number(time)), eb.and([eb(column, "=", Number(time)), eb("id", "<", id!)])]),
      );
    }
    const rows = this.#sql.all(query);
    const page = rows.slice(0, limit);
    const last = rows.length > limit ? page.at(-1) : undefined;
    return {
      items: page.map(parse),
      next: last ? `${(last as Record<string, unknown>)[column]}~${last.id}` : null,
    };
  }

  /** All events of a lead, oldest first; or those after an event number of the lead's. */
  events(leadId: string, after = 0, limit = 10_000): LeadEvent[] {
    return this.#events.all(leadId, after, limit).map(
      (r) =>
        ({
          id: r.id,
          leadId: r.leadId,
          seq: r.seq,
          actId: r.actId,
          at: r.at,
          actor: JSON.parse(r.actorJson),
          kind: r.kind,
          data: JSON.parse(r.dataJson),
          ...(r.whyJson && { why: JSON.parse(r.whyJson) }),
        }) as LeadEvent,
    );
  }

  /** The latest try of a lead; null when there was none. */
  lastTry(leadId: string): { at: number; data: EventData["tried"] } | null {
    const { q } = this.#sql;
    const tried = q.selectFrom("events").select(["at", "dataJson"]).where("leadId", "=", leadId);
    const row = this.#sql.get(tried.where("kind", "=", "tried").orderBy("seq", "desc").limit(1));
    return row ? { at: row.at, data: JSON.parse(row.dataJson) } : null;
  }

  /** The newest thing a lead has said to us (epoch ms); null when nothing is told of it. */
  theirWords(leadId: string): (TheirWords & { readonly at: number }) | null {
    for (const { at, kind, dataJson } of this.#theirs.all(leadId, ...THEIR_KINDS, LATELY)) {
      const event = { kind: kind as EventKind };
      const said = entryOf(event).theirs?.(JSON.parse(dataJson));
      if (said) return { ...said, at, text: said.text?.slice(0, SHOWN_WORDS) ?? null };
    }
    return null;
  }

  /** How the messages and alerts of a lead stand. */
  messages(leadId: string): MessageState[] {
    const { q } = this.#sql;
    return this.#sql.all(
      q
        .selectFrom("outbox")
        .select(["id", "state", "channel", "toAddress as to", "attempts", "sentAt", "error"])
        .where("leadId", "=", leadId),
    );
  }

  /** Inquiries that wait to be understood, oldest first; of one source when it is named, and after `time~id`. */
  quarantine(limit: number, sourceId: string | null = null, after: string | null = null) {
    const { q } = this.#sql;
    let waiting = q
      .selectFrom("inquiries")
      .select(["id", "sourceId", "receivedAt", "contentType", "headersJson", "reason", "held"])
      // Its beginning: what waits may be large, and much may wait.
      .select(raw<Buffer>`coalesce(substr(raw, 1, ${raw.lit(SHOWN)}), x'')`.as("raw"))
      .where("state", "=", raw.lit("quarantined"))
      .orderBy("receivedAt")
      .orderBy("id")
      .limit(limit);
    if (sourceId) waiting = waiting.where("sourceId", "=", sourceId);
    const [at, id] = after?.split("~") ?? [];
    if (at && id)
      waiting = waiting.where((eb) =>
        eb.or([
          eb("receivedAt", ">", Number(at)),
          eb.and([eb("receivedAt", "=", Number(at)), eb("id", ">", id)]),
        ]),
      );
    return this.#sql.all(waiting);
  }

  /** What arrived as one inquiry, as it came. */
  delivery(inquiryId: string): (Delivery & { sourceId: string }) | null {
    const { q } = this.#sql;
    const row = this.#sql.get(
      q
        .selectFrom("inquiries")
        .select(["raw", "contentType", "headersJson", "sourceId"])
        .where("id", "=", inquiryId),
    );
    if (!row) return null;
    const { headersJson, ...rest } = row;
    return { ...rest, headers: JSON.parse(headersJson) as Delivery["headers"] };
  }

  /** What arrived as one inquiry, byte for byte; the whole document where several people stood in one. */
  original(inquiryId: string): { raw: Buffer; contentType: string } | null {
    const own = this.delivery(inquiryId);
    const whole = own && partOf(own.headers);
    return whole ? this.delivery(whole) : own;
  }

  /** Number of the newest event. */
  lastEvent(): number {
    const { q } = this.#sql;
    return Number(this.#sql.get(q.selectFrom("events").select((eb) => eb.fn.max("n").as("n")))?.n ?? 0);
  }

  /** Which leads have changed since an event number, for a browser that was away; null when too many. */
  changedSince(n: number, limit = 500): { n: number; leadId: string; kinds: string[] }[] | null {
    const { q } = this.#sql;
    const rows = this.#sql.all(
      q
        .selectFrom("events")
        .select(["n", "leadId", "kind"])
        .where("n", ">", n)
        .orderBy("n")
        .limit(limit + 1),
    );
    return rows.length > limit ? null : rows.map((r) => ({ n: r.n, leadId: r.leadId, kinds: [r.kind] }));
  }

  /** What somebody was asked in notes and has not answered, the oldest first. */
  askedOf(personId: string): { readonly leadId: string; readonly noteId: string }[] {
    const { q } = this.#sql;
    return this.#sql.all(
      q
        .selectFrom("asked")
        .select(["leadId", "noteId"])
        .where("personId", "=", personId)
        .orderBy("at")
        .limit(200),
    );
  }

  /** How many leads stand in each stage of the company's own: those the desk itself sets are not counted. */
  leadsInStages(): Readonly<Record<string, number>> {
    // Literals, so that the index of just these is used.
    const rows = this.#sql.all(
      this.#sql.q
        .selectFrom("leads")
        .select([raw<string>`json_extract(leadJson, '$.stage')`.as("stage"), raw<number>`count(*)`.as("n")])
        .where(OWN_STAGES)
        .groupBy(raw`json_extract(leadJson, '$.stage')`),
    );
    return Object.fromEntries(rows.map(({ stage, n }) => [stage, n]));
  }

  /** The leads that stand in a stage of the company's own. */
  leadsInStage(stage: string): string[] {
    const rows = this.#sql.all(
      this.#sql.q
        .selectFrom("leads")
        .select("id")
        .where(OWN_STAGES)
        .where(raw<boolean>`json_extract(leadJson, '$.stage') = ${stage}`),
    );
    return rows.map((r) => r.id);
  }
}

function parse(row: { leadJson: string }): Lead {
  return unpackLead(row.leadJson);
}
