import { sql as raw, type SqlBool } from "kysely";
import type { Logger } from "pino";
import { called } from "../../core/lead/called.ts";
import { concerns, SEPARATOR } from "../../core/lead/columns.ts";
import { entryOf, type LeadEvent } from "../../core/lead/events.ts";
import type { Lead } from "../../core/lead/lead.ts";
import type { Setup } from "../../core/policy/setup.ts";
import { type Asked, readSearch, type Term } from "../../core/search/asked.ts";
import { gapsOf, isNear } from "../../core/search/near.ts";
import { type Piece, piecesOf } from "../../core/search/pieces.ts";
import { plain } from "../../core/search/plain.ts";
import { excerpt, rank } from "../../core/search/rank.ts";
import type { Clock } from "../clock.ts";
import type { Sql } from "../db/sql.ts";
import type { LeadCache } from "../read/lead-cache.ts";
import { Recurring } from "../timers/recurring.ts";
import { SearchIndex } from "./index.ts";

/** A lead that was found, and by what. */
export interface Hit {
  readonly lead: Lead;
  readonly title: string;
  /** What the piece is that it was found by. */
  readonly where: Piece["about"];
  readonly at: number | null;
  readonly snippet: string;
  /** What of the snippet was looked for: `[from, to)` each. */
  readonly marks: readonly (readonly [number, number])[];
}

interface Parts {
  readonly sql: Sql;
  readonly leads: LeadCache;
  readonly clock: Clock;
  readonly log: Logger;
  readonly setup: () => Setup;
}

/** So many of the newest that fit are ranked. */
const CANDIDATES = 120;
/** Fewer than these, and words one typing error away are looked for too. */
const FEW = 6;
/** So many words may one stand for that was mistyped. */
const MOST_NEAR = 40;
/** The index knows no piece shorter than this. */
const SHORTEST = 3;
/** So much of the log is taken in before a search, so that what has just happened is found (events). */
const BEFORE_SEARCH = 2_000;
/** How often the index looks whether it is behind, and how much it takes in then. */
const NAP = 250;
const A_NAP = 400;
/** So many documents with one word are looked through for leads that have the other elsewhere. */
const ELSEWHERE = 3_000;

interface Doc {
  readonly leadId: string;
  readonly eventN: number | null;
}

/** Finds leads by any piece of what is known of them or was written to and about them. */
export class Search extends Recurring {
  readonly #sql: Sql;
  readonly #leads: LeadCache;
  readonly #setup: () => Setup;
  readonly #now: () => number;
  readonly #log: Logger;
  readonly index: SearchIndex;

  constructor({ sql, leads, clock, log, setup }: Parts) {
    super({ clock, log }, NAP);
    this.#sql = sql;
    this.#leads = leads;
    this.#setup = setup;
    this.#now = () => clock.now();
    this.#log = log;
    this.index = new SearchIndex(sql, leads);
  }

  /** Take in a little of what is new. */
  override run(): void {
    this.index.follow(A_NAP);
  }

  /**
   * The leads a search finds, the likeliest first; only what is somebody's business with `of`. Where little is found as
   * it was typed, a typing error in each word is forgiven. Never throws for what was typed.
   */
  find(typed: string, { of, limit }: { readonly of: string | null; readonly limit: number }): Hit[] {
    this.#catchUp();
    const asked = readSearch(typed);
    if (asked.terms.length === 0 && asked.from.length + asked.with.length === 0) return [];
    const leads = new Map<string, Doc[]>();
    const add = (docs: readonly Doc[]) => {
      for (const doc of docs) leads.set(doc.leadId, [...(leads.get(doc.leadId) ?? []), doc]);
    };
    const only = this.#only(asked, of);
    const long = asked.terms.filter((t) => t.text.length >= SHORTEST);
    if (long.length === 0) add(this.#short(asked.terms, only));
    else {
      const exact = long.map((term) => [term.text]);
      add(this.#docs("searchKnown", exact, only));
      add(this.#docs("searchWrote", exact, only));
      if (leads.size < FEW && long.length > 1) add(this.#apart(exact, only));
      if (leads.size < FEW) {
        const near = long.map((term) => this.#near(term));
        if (near.some((words) => words.length > 1)) add(this.#docs("searchKnown", near, only));
        if (near.every((words) => words.length > 0) && long.length > 1 && leads.size < FEW)
          add(this.#apart(near, only));
      }
    }
    return this.#ranked(asked.terms, leads, of).slice(0, limit);
  }

  /** Take in what has just happened. On a disk that is full what is known already is found all the same. */
  #catchUp(): void {
    try {
      this.index.follow(BEFORE_SEARCH);
    } catch (error) {
      this.#log.error({ err: error }, "the search could not be brought up to date");
    }
  }

  #ranked(
    terms: readonly Term[],
    leads: ReadonlyMap<string, readonly Doc[]>,
    of: string | null,
  ): readonly Hit[] {
    const now = this.#now();
    const best = new Map<string, { hit: Hit; points: number }>();
    for (const [id, docs] of leads) {
      const found = this.#leads.get(id);
      // Who was joined to another is found by what was theirs, and is the other now.
      const lead = found?.joinedTo ? this.#leads.get(found.joinedTo) : found;
      if (!found || !lead) continue;
      // Whose business the other is, is not whose this one was.
      if (of !== null && !concerns(lead).includes(of)) continue;
      const pieces = [...piecesOf(found), ...this.#written(docs)];
      const ranked = rank(terms, lead, pieces, now);
      if (!ranked) continue;
      const known = best.get(lead.id);
      if (known && known.points >= ranked.points) continue;
      const { text, marks } = excerpt(ranked.found);
      const { about, at } = ranked.found.piece;
      best.set(lead.id, {
        points: ranked.points,
        hit: { lead, title: called(lead), where: about, at, snippet: text, marks },
      });
    }
    return [...best.values()]
      .sort((a, b) => b.points - a.points || b.hit.lead.lastActivityAt - a.hit.lead.lastActivityAt)
      .map(({ hit }) => hit);
  }

  /** What was written by the events some documents stand for. */
  #written(docs: readonly Doc[]): Piece[] {
    const events = docs.flatMap(({ eventN }) => (eventN === null ? [] : [eventN]));
    if (events.length === 0) return [];
    const rows = this.#sql.once(
      this.#sql.q
        .selectFrom("events")
        .select(["kind", "at", "actorJson", "dataJson"])
        .where("n", "in", events.slice(0, 20)),
    );
    return rows.flatMap(({ kind, at, dataJson }) => {
      const event = { kind, data: JSON.parse(dataJson) } as LeadEvent;
      const entry = entryOf(event);
      const text = entry.wrote?.(event.data);
      return text ? [{ about: entry.theirs ? ("said" as const) : ("note" as const), text, at }] : [];
    });
  }

  /** Words of leads that a term may stand for: itself, and those one typing error away. */
  #near({ text, digits }: Term): string[] {
    const gaps = digits ? [] : gapsOf(text);
    if (gaps.length === 0) return [text];
    const rows = this.#sql.once(
      this.#sql.q.selectFrom("searchGaps").select("word").distinct().where("gap", "in", gaps).limit(400),
    );
    const near = rows.map((r) => r.word).filter((word) => word !== text && isNear(text, word));
    return [text, ...near.slice(0, MOST_NEAR)];
  }

  /** Whose leads, and which, as a condition on `leads`; null for all. */
  #only(asked: Asked, of: string | null): SqlBoolExpression | null {
    const parts: SqlBoolExpression[] = [];
    if (of !== null) parts.push(raw<SqlBool>`instr(leads.people, ${SEPARATOR + of + SEPARATOR}) > 0`);
    const { sources, people } = this.#setup();
    const named = (name: string, words: readonly string[]) => words.some((w) => plain(name).includes(w));
    if (asked.from.length > 0) {
      const ids = sources
        .filter((s) => named(`${s.name} ${s.key} ${s.channel}`, asked.from))
        .map((s) => s.id);
      parts.push(ids.length > 0 ? raw<SqlBool>`leads."sourceId" in (${raw.join(ids)})` : raw<SqlBool>`0`);
    }
    if (asked.with.length > 0) {
      const ids = people.filter((p) => named(p.name, asked.with)).map((p) => p.id);
      parts.push(ids.length > 0 ? raw<SqlBool>`leads."holderId" in (${raw.join(ids)})` : raw<SqlBool>`0`);
    }
    return parts.length > 0 ? raw<SqlBool>`${raw.join(parts, raw` and `)}` : null;
  }

  /** The newest documents that have one of each of the words. */
  #docs(
    table: "searchKnown" | "searchWrote",
    words: readonly (readonly string[])[],
    only: SqlBoolExpression | null,
    limit = CANDIDATES,
  ): Doc[] {
    const match = words
      .map((any) => `(${any.map((word) => `"${word.replaceAll('"', '""')}"`).join(" OR ")})`)
      .join(" AND ");
    const docs = this.#sql.q
      .selectFrom(table)
      .innerJoin("searchDocs", "searchDocs.n", `${table}.rowid`)
      .select(["searchDocs.leadId", "searchDocs.eventN"])
      .where(raw<SqlBool>`${raw.ref(table)} match ${match}`)
      .orderBy(`${table}.rowid`, "desc")
      .limit(limit);
    return this.#sql.once(only ? docs.innerJoin("leads", "leads.id", "searchDocs.leadId").where(only) : docs);
  }

  /** Leads that have one of each of the words somewhere, in different documents. */
  #apart(words: readonly (readonly string[])[], only: SqlBoolExpression | null): Doc[] {
    const found = words.map((any) => [
      ...this.#docs("searchKnown", [any], only, ELSEWHERE),
      ...this.#docs("searchWrote", [any], only, ELSEWHERE),
    ]);
    const ids = found.map((docs) => new Set(docs.map((d) => d.leadId)));
    return found
      .flat()
      .filter(({ leadId }) => ids.every((has) => has.has(leadId)))
      .slice(0, CANDIDATES);
  }

  /** Of one or two letters only the beginning of a name is looked for, among who was heard of last. */
  #short(terms: readonly Term[], only: SqlBoolExpression | null): Doc[] {
    const text = terms[0]?.text ?? "";
    const leads = this.#sql.q
      .selectFrom("leads")
      .select("id as leadId")
      .where(raw<SqlBool>`(substr(called, 1, ${text.length}) = ${text} or instr(called, ${` ${text}`}) > 0)`)
      .orderBy("lastActivityAt", "desc")
      .limit(CANDIDATES);
    return this.#sql.once(only ? leads.where(only) : leads).map(({ leadId }) => ({ leadId, eventN: null }));
  }
}

type SqlBoolExpression = ReturnType<typeof raw<SqlBool>>;
