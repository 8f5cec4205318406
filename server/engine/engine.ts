import { join as joinPath } from "node:path";
import type { Selectable } from "kysely";
import type { Logger } from "pino";
import type { BookDecided } from "../../core/desk/deals.ts";
import { unchanged, undelivered } from "../../core/desk/hear.ts";
import type { Decided, Plan, Told, World } from "../../core/desk/plan.ts";
import { type DecidedPair, join, part } from "../../core/desk/same.ts";
import { undo } from "../../core/desk/undo.ts";
import { unusable } from "../../core/desk/usable.ts";
import type { LeadEvent } from "../../core/lead/events.ts";
import type { Lead } from "../../core/lead/lead.ts";
import type { Setup } from "../../core/policy/setup.ts";
import { type Problem, refuse } from "../../core/refusal.ts";
import { type Attachment, MESSAGE_WAYS, type MessageWay } from "../../core/vocabulary.ts";
import type { OutChannel } from "../channels/channel.ts";
import type { Clock } from "../clock.ts";
import { KeptValues } from "../db/kept.ts";
import type { OutboxRow } from "../db/schema.ts";
import type { Sql } from "../db/sql.ts";
import { Files } from "../files/files.ts";
import { idMaker, type MakeId } from "../ids.ts";
import { Links } from "../links.ts";
import { Feed } from "../live/feed.ts";
import { Outbox } from "../outbox/outbox.ts";
import { goesToLead, packer } from "../outbox/packer.ts";
import { Reader } from "../read/reader.ts";
import { keepSetup } from "../setup/kept-setup.ts";
import { storedSetup } from "../setup/stored-setup.ts";
import { Timers } from "../timers/timers.ts";
import { type Committer, committer } from "./commit.ts";
import { Looker } from "./looker.ts";
import { Refusal } from "./refusal.ts";
import { wipeInside } from "./wipe.ts";

export interface EngineConfig {
  /** Folder of the database; `:memory:` for tests. */
  readonly data: string;
  readonly clock: Clock;
  /** What to begin with when the folder is new. */
  readonly setup: Setup;
  readonly channels: Readonly<Record<OutboxRow["channel"], OutChannel>>;
  /** Address people reach this server at, for links in messages. */
  readonly url: string;
  readonly log: Logger;
  readonly durable?: boolean;
  /** Since when what was written may be missing, when the database's log was lost (epoch ms); null when it was not. */
  readonly lostSince?: number | null;
  /** Origins recordings of calls are fetched from. */
  readonly recordingsFrom?: () => readonly string[];
  readonly makeId?: MakeId;
  readonly chance?: () => number;
}

export type Result =
  | { readonly ok: true; readonly plan: Plan }
  | { readonly ok: false; readonly problem: Problem };

/** What a change of the set-up owes the bells that run: reckon their times again, or go on by the policies as they are now. */
export type Owed = "reckon" | "anew";

/** Somebody who must know of a change of the set-up. */
export interface SetupListener {
  /** In the same transaction: what is written here stands or falls with the change. */
  readonly inside?: (before: Setup, after: Setup, by: string | null, owes: Owed | undefined) => void;
  /** Once it is in force. */
  readonly after?: () => void;
}

/** Hears of what is committed, inside its transaction: what is told by name, the lead as it is now, when, and its events. */
export type Teller = (
  told: readonly Told[],
  lead: Lead | null,
  at: number,
  events: readonly LeadEvent[],
) => void;

/** How it has gone with a message, for whoever commits it: whose lead it is, what that changes, and what is written beside. */
export interface Course {
  /** Null when it is about no lead. */
  readonly leadId: string | null;
  readonly decide: (world: World) => Decided;
  readonly also: () => void;
}

/**
 * Look, decide, commit, and tell whoever must know: the heart of the desk. Every part of it works by an engine and knows no
 * desk; the desk is an engine with all its parts.
 */
export class Engine {
  readonly sql: Sql;
  readonly clock: Clock;
  readonly log: Logger;
  readonly kept: KeptValues;
  readonly feed = new Feed();
  readonly looker: Looker;
  readonly reader: Reader;
  readonly links: Links;
  readonly files: Files;
  readonly timers: Timers;
  readonly outbox: Outbox;
  /** Prepare a new id of the desk's own kind. */
  readonly newId: MakeId;
  /** Takes a lead out with everything about it. */
  readonly wipe: Committer["wipe"];
  /** Writes a lead's events anew. */
  readonly rewrite: Committer["rewrite"];
  /** Why the newest set-up is not the one in force, in words; null when it is. */
  fellBack: string | null;
  readonly commit: (plan: Plan) => number;
  readonly #commitBook: Committer["commitBook"];
  readonly #told: Teller[] = [];
  readonly #listeners: SetupListener[] = [];
  readonly #planListeners: ((plan: Plan) => void)[] = [];
  readonly channels: EngineConfig["channels"];

  constructor(sql: Sql, config: EngineConfig) {
    const { clock, log, channels } = config;
    this.sql = sql;
    this.clock = clock;
    this.log = log;
    this.kept = new KeptValues(sql, clock);
    sql.onTrouble = () => this.feed.publish({ n: 0, leadId: null, kinds: ["trouble"] });
    this.newId = config.makeId ?? idMaker(clock);
    const { setup, fellBack } = storedSetup(sql, config.setup, clock.now());
    this.fellBack = fellBack;
    this.channels = channels;
    const looker = new Looker(sql, clock, this.newId, setup, () => new Set(this.unset));
    this.looker = looker;
    const { commit, commitBook, wipe, rewrite } = committer(sql, looker, {
      isLeaving: (id) => this.outbox.isLeaving(id),
      tell: (...told) => {
        for (const listener of this.#told) listener(...told);
      },
    });
    this.#commitBook = commitBook;
    this.commit = commit;
    this.wipe = wipe;
    this.rewrite = rewrite;
    this.reader = new Reader(sql, looker.leads);
    this.links = new Links(this.kept.ownSecret("links"), config.url);
    this.files = new Files(config.data === ":memory:" ? null : joinPath(config.data, "files"), sql, clock);
    this.timers = new Timers({
      sql,
      clock,
      look: (id) => looker.look(id),
      commit,
      reload: () => looker.reload(),
      wipe: (id) => wipeInside({ sql, looker, wipe }, id),
      wiped: () => this.feed.publish({ n: 0, leadId: null, kinds: ["wiped"] }),
      committed: (plans, n) => this.tellOf(plans, n),
      log,
    });
    this.outbox = new Outbox({
      sql,
      clock,
      pack: packer({
        sql,
        links: this.links,
        files: this.files,
        setup: () => this.setup,
        now: () => clock.now(),
      }),
      channels,
      troubled: () => this.feed.publish({ n: 0, leadId: null, kinds: ["trouble"] }),
      list: () => this.links.page("/list"),
      perLine: (channel) =>
        channel === "chat" ? null : (this.setup.policies.restraint.perLineMinute?.[channel] ?? null),
      chance: config.chance ?? Math.random,
      refused: (row, because) => this.follow(this.courseOf(row, because)),
      // Delivery states are no events; they are told under the number of the newest one.
      moved: (leadIds) => {
        for (const leadId of leadIds) this.feed.publish({ n: 0, leadId, kinds: ["delivery"] });
      },
      log,
    });
  }

  get setup(): Setup {
    return this.looker.setup;
  }

  /** Be told of every change of the set-up from now on. */
  onSetup(listener: SetupListener): void {
    this.#listeners.push(listener);
  }

  /** Be told, inside its transaction, of what happened, and of what other systems are to be told of by name. */
  onTold(listener: Teller): void {
    this.#told.push(listener);
  }

  /** Be told of every plan once it is on disk. */
  onPlan(listener: (plan: Plan) => void): void {
    this.#planListeners.push(listener);
  }

  /** Ways out that nobody has set up. */
  get unset(): readonly MessageWay[] {
    return MESSAGE_WAYS.filter((way) => this.channels[way].unset);
  }

  /** Why nothing goes by a way, in words; null when it is set up. */
  whyUnset(way: MessageWay): string | null {
    return this.channels[way].unset ?? null;
  }

  /**
   * Put a changed setup in force; every version is kept.
   * @throws Refusal when a part of it cannot be used.
   */
  changeSetup(setup: Setup, by: string | null = null, owes?: Owed): void {
    const problem = unusable(setup, this.clock.now());
    if (problem) throw new Refusal(problem);
    const before = this.setup;
    this.sql.transaction(() => {
      keepSetup(this.sql, setup, this.clock.now(), by);
      for (const { inside } of this.#listeners) inside?.(before, setup, by, owes);
    });
    this.looker.setup = setup;
    this.fellBack = null;
    for (const { after } of this.#listeners) after?.();
    this.feed.publish({ n: 0, leadId: null, kinds: ["setup"] });
  }

  /** The world around one lead, for questions that change nothing. */
  look(leadId: string | null): World {
    return this.looker.look(leadId);
  }

  get loads(): Readonly<Record<string, number>> {
    return this.looker.loads;
  }

  /** Look, decide, commit: one uninterrupted piece and one transaction. `also` writes more inside it. */
  act(leadId: string | null, decide: (world: World) => Decided, also?: (plan: Plan) => void): Result {
    let result: Decided;
    let n = 0;
    try {
      result = this.sql.transaction(() => {
        const decided = decide(this.looker.look(leadId));
        if (decided.ok) {
          n = this.commit(decided.plan);
          also?.(decided.plan);
        }
        return decided;
      });
    } catch (error) {
      this.looker.reload();
      if (error instanceof Refusal) return { ok: false, problem: error.problem };
      throw error;
    }
    if (result.ok) this.tellOf([result.plan], n);
    return result;
  }

  /** Look, decide and commit what changes the book of customers, with its lead where that changes too. */
  actBook(leadId: string | null, decide: (world: World) => BookDecided): BookDecided {
    let decided: BookDecided;
    let n = 0;
    try {
      decided = this.sql.transaction(() => {
        const made = decide(this.looker.look(leadId));
        if (made.ok) {
          this.#commitBook(made.plan, this.clock.now());
          n = made.plan.lead ? this.reader.lastEvent() : 0;
        }
        return made;
      });
    } catch (error) {
      this.looker.reload();
      if (error instanceof Refusal) return { ok: false, problem: error.problem };
      throw error;
    }
    if (!decided.ok) return decided;
    if (decided.plan.lead) this.tellOf([decided.plan.lead], n);
    if (decided.plan.book.length > 0) this.feed.publish({ n: 0, leadId: null, kinds: ["book"] });
    return decided;
  }

  /** What it comes to that a message has arrived (`failed` is null) or never will; what is settled already stays so. */
  courseOf(row: Selectable<OutboxRow>, failed: string | null): Course {
    const { id, leadId, channel, toAddress, state } = row;
    const settled = state === "dead" || state === "withdrawn" || state === "delivered";
    const told = goesToLead(row) && channel !== "chat" && !settled && failed !== null;
    const about = {
      messageId: id,
      channel: channel === "text" ? channel : ("email" as const),
      to: toAddress,
    };
    return {
      leadId: leadId && this.looker.survivor(leadId),
      decide: (world) => (told ? undelivered(world, { ...about, because: failed }) : unchanged(world)),
      also: () => {
        if (settled) return;
        if (failed === null) this.outbox.arrived(id);
        else this.outbox.giveUp(id, failed);
        if (leadId) this.feed.publish({ n: 0, leadId, kinds: ["delivery"] });
      },
    };
  }

  /** See a course through; a message about no lead, or one that is gone, has its state alone. */
  follow({ leadId, decide, also }: Course): void {
    if (!leadId || !this.act(leadId, decide, also).ok) also();
  }

  /** Take back an act of a lead. */
  undo(leadId: string, by: string, actId: string): Result {
    return this.act(leadId, (world) => undo(world, by, actId, this.reader.events(leadId)));
  }

  /** Decide about two leads at once: both plans are on disk, or neither. */
  actPair(leadId: string, decide: (world: World) => DecidedPair): Result {
    let decided: DecidedPair;
    let n = 0;
    try {
      decided = this.sql.transaction(() => {
        const pair = decide(this.looker.look(leadId));
        if (pair.ok) for (const plan of [pair.first, pair.second]) n = this.commit(plan);
        return pair;
      });
    } catch (error) {
      this.looker.reload();
      throw error;
    }
    if (!decided.ok) return decided;
    this.tellOf([decided.first, decided.second], n);
    return { ok: true, plan: decided.first.leadId === leadId ? decided.first : decided.second };
  }

  /** Join another lead to this one. */
  join(leadId: string, otherId: string, by: string): Result {
    const other = this.looker.lead(otherId);
    if (!other) return refuse("no-such-lead", 404, "No such lead", "`with` names no lead.", "with");
    return this.actPair(leadId, (world) => join(world, other, { kind: "person", id: by }));
  }

  /** Take apart again what was joined. */
  part(leadId: string, otherId: string, by: string): Result {
    const other = this.looker.lead(otherId);
    if (!other) return refuse("no-such-lead", 404, "No such lead", "`from` names no lead.", "from");
    return this.actPair(leadId, (world) =>
      part(world, this.reader.events(leadId), other, this.reader.events(otherId), by),
    );
  }

  /** Commit what was decided elsewhere in this process, one after the other inside the caller's transaction. */
  commitAll(plans: readonly Plan[]): number {
    let n = 0;
    for (const plan of plans) n = this.commit(plan);
    return n;
  }

  /** Tell timers, outbox and browsers of plans that are on disk. */
  tellOf(plans: readonly Plan[], n: number): void {
    let messages = 0;
    for (const plan of plans) {
      this.timers.heed(plan);
      for (const listener of this.#planListeners) listener(plan);
      messages += plan.messages.length + plan.alerts.length;
      if (plan.events.length === 0) continue;
      const call = plan.events.find((e) => e.kind === "called-in");
      const personId = call?.data.result === "answered" ? call.data.personId : null;
      this.feed.publish({
        n,
        leadId: plan.leadId,
        kinds: plan.events.map((e) => e.kind),
        ...(personId && { personId }),
        told: plan.events.flatMap((e) =>
          e.kind === "alerted" && e.data.personId ? [{ personId: e.data.personId, about: e.data.about }] : [],
        ),
      });
    }
    if (plans.some((p) => p.book.length > 0)) this.feed.publish({ n: 0, leadId: null, kinds: ["book"] });
    if (messages > 0) this.outbox.kick();
  }

  /** Queue a notice that is about no lead. Call it inside a transaction. */
  queueNotice(
    notice: Pick<OutboxRow, "channel" | "key" | "subject" | "body" | "personId" | "purpose"> & {
      to: string;
      attachments?: readonly Attachment[];
      /** The earliest it may go (epoch ms); at once when left out. */
      notBefore?: number;
    },
  ): void {
    const { to, attachments, notBefore, ...rest } = notice;
    const now = this.clock.now();
    const row = {
      ...rest,
      id: this.newId("msg"),
      toAddress: to,
      fromAddress: rest.channel === "email" ? this.setup.policies.company.email : "Kite Bell",
      attachmentsJson: attachments?.length ? JSON.stringify(attachments) : null,
      linkJson: null,
      headersJson: null,
      leadId: null,
      state: "queued" as const,
      attempts: 0,
      nextAt: notBefore ?? now,
      createdAt: now,
      sentAt: null,
      error: null,
    };
    this.sql.run(
      this.sql.q
        .insertInto("outbox")
        .values(row)
        .onConflict((c) => c.column("key").doNothing()),
    );
  }
}
