import { join as joinPath } from "node:path";
import { sql as raw } from "kysely";
import type { Logger } from "pino";
import { learn, type Written } from "../core/desk/learn.ts";
import type { Decided, Plan, World } from "../core/desk/plan.ts";
import { receive } from "../core/desk/receive.ts";
import { type DecidedPair, join, part } from "../core/desk/same.ts";
import { undo } from "../core/desk/undo.ts";
import { unusable } from "../core/desk/usable.ts";
import { bounded, writtenDown } from "../core/intake/fields.ts";
import { NOTHING_SAID, understand } from "../core/intake/understand.ts";
import type { Lead, MaybeSame } from "../core/lead/lead.ts";
import type { Setup } from "../core/policy/setup.ts";
import type { Source } from "../core/policy/source.ts";
import { type Problem, refuse } from "../core/refusal.ts";
import { dateTime } from "../core/time/words.ts";
import type { Attachment } from "../core/vocabulary.ts";
import { MESSAGE_WAYS } from "../core/vocabulary.ts";
import { ApiKeys } from "./access/keys.ts";
import { Morning } from "./bells/morning.ts";
import { Sweep, type SweepKind } from "./bells/sweep.ts";
import type { Channel } from "./channels/channel.ts";
import type { Clock } from "./clock.ts";
import { type Committer, committer } from "./commit.ts";
import { DATABASE } from "./db/folder.ts";
import { Kept } from "./db/kept.ts";
import type { OutboxRow } from "./db/schema.ts";
import { Sql } from "./db/sql.ts";
import { Files } from "./files/files.ts";
import { idMaker, type MakeId } from "./ids.ts";
import { Importer } from "./import/importer.ts";
import { Guard } from "./intake/guard.ts";
import { Intake } from "./intake/intake.ts";
import { PayloadReader } from "./intake/payload-reader.ts";
import { Links } from "./links.ts";
import { Feed } from "./live/feed.ts";
import { Presence } from "./live/presence.ts";
import { Looker } from "./look/looker.ts";
import { Correspondence } from "./messages/correspondence.ts";
import { HeldReplies } from "./messages/held-replies.ts";
import { Outbox } from "./outbox/outbox.ts";
import { packer } from "./outbox/packer.ts";
import { keepSetup, keptSetups } from "./policy/kept-setup.ts";
import { Office } from "./policy/office.ts";
import { Playbacks } from "./policy/playbacks.ts";
import { Roster } from "./policy/roster.ts";
import { Reader } from "./read/reader.ts";
import { Refusal } from "./refusal.ts";
import { Sources } from "./source/sources.ts";
import { Watch } from "./source/watch.ts";
import { Timers } from "./timers/timers.ts";
import { wipeInside } from "./wipe.ts";

export interface DeskConfig {
  /** Folder of the database; `:memory:` for tests. */
  readonly data: string;
  readonly clock: Clock;
  /** What to begin with when the folder is new. */
  readonly setup: Setup;
  readonly channels: Readonly<Record<OutboxRow["channel"], Channel>>;
  /** Address people reach this server at, for links in messages. */
  readonly url: string;
  readonly log: Logger;
  readonly durable?: boolean;
  /** Since when what was written may be missing, when the database's log was lost (epoch ms); null when it was not. */
  readonly lostSince?: number | null;
  /** Origins recordings of calls are fetched from. */
  readonly recordingsFrom?: readonly string[];
  readonly makeId?: MakeId;
  readonly chance?: () => number;
}

export type Result =
  | { readonly ok: true; readonly plan: Plan }
  | { readonly ok: false; readonly problem: Problem };

/** An inquiry written down by somebody of ours. */
export interface HandEntry {
  readonly by: string;
  readonly fields: Readonly<Record<string, string>>;
  readonly source: Source;
  readonly goesTo: { kind: "rules" } | { kind: "person"; id: string } | { kind: "list" };
  /** What the form of the entry cannot say: kinds of phones, ways they must not be reached, related people. */
  readonly more?: Written;
  /** Whether whoever enters it may see a lead: of one they may not, nothing is changed or told. */
  readonly maySee?: (lead: Lead) => boolean;
}

/** The desk: everything the outside may ask of it. There is exactly one in a process. */
export class Desk {
  readonly reader: Reader;
  readonly feed = new Feed();
  /** Who has which lead open just now. */
  readonly presence = new Presence((leadId) => this.feed.publish({ n: 0, leadId, kinds: ["here"] }));
  readonly intake: Intake;
  readonly payloads = new PayloadReader();
  readonly timers: Timers;
  readonly outbox: Outbox;
  readonly links: Links;
  readonly files: Files;
  /** What the carrier signs its reports with. */
  readonly carrierSecret: string;
  /** Keeps robots off the website forms. */
  readonly guard: Guard;
  readonly sources: Sources;
  readonly imports: Importer;
  readonly watch: Watch;
  readonly office: Office;
  readonly roster: Roster;
  readonly playbacks: Playbacks;
  readonly keys: ApiKeys;
  readonly letters: Correspondence;
  readonly heldReplies: HeldReplies;
  readonly kept: Kept;
  readonly log: Logger;
  /** Reckons running bells anew after hours or targets have changed. */
  readonly sweep: Sweep;
  readonly morning: Morning;
  readonly clock: Clock;
  readonly sql: Sql;
  /** Why the newest set-up is not the one in force, in words; null when it is. */
  fellBack: string | null;
  readonly lostSince: number | null;
  readonly recordingsFrom: readonly string[];
  readonly #looker: Looker;
  /** Takes a lead out with everything about it. */
  readonly wipe: Committer["wipe"];
  readonly #commit: (plan: Plan) => number;
  readonly #id: MakeId;
  readonly #channels: DeskConfig["channels"];

  constructor(sql: Sql, config: DeskConfig) {
    const { clock, log, channels } = config;
    this.sql = sql;
    this.clock = clock;
    this.kept = new Kept(sql, clock);
    this.log = log;
    this.lostSince = config.lostSince ?? null;
    this.recordingsFrom = config.recordingsFrom ?? [];
    sql.onTrouble = () => this.feed.publish({ n: 0, leadId: null, kinds: ["trouble"] });
    this.#channels = channels;
    this.#id = config.makeId ?? idMaker(clock);
    const { setup, fellBack } = storedSetup(sql, config);
    this.fellBack = fellBack;
    const unset = MESSAGE_WAYS.filter((way) => channels[way].isUnset);
    this.#looker = new Looker(sql, clock, this.#id, setup, new Set(unset));
    const { commit, wipe } = committer(sql, this.#looker);
    this.#commit = commit;
    this.wipe = wipe;
    this.reader = new Reader(sql, this.#looker.leads);
    this.links = new Links(this.kept.ownSecret("links"), config.url);
    this.files = new Files(config.data === ":memory:" ? null : joinPath(config.data, "files"), sql, clock);
    this.guard = new Guard(this.kept.ownSecret("forms"), () => Date.now());
    this.carrierSecret = `whsec_${Buffer.from(this.kept.ownSecret("carrier"), "base64url").toString("base64")}`;
    this.sources = new Sources(sql, clock, () => this.setup, this.payloads);
    const { links, files, payloads } = this;
    const committed = (plans: readonly Plan[], n: number) => this.#committed(plans, n);
    const looker = this.#looker;
    this.intake = new Intake({
      sql,
      clock,
      id: this.#id,
      looker,
      links,
      files,
      reader: this.reader,
      payloads,
      commit,
      committed,
      tell: (inquiryId, person, body) => {
        this.queueNotice({
          channel: "text",
          to: person.phone,
          personId: person.id,
          key: `own-text:${inquiryId}`,
          subject: null,
          body,
          purpose: "answer",
        });
        this.outbox.kick();
      },
      held: () => this.feed.publish({ n: 0, leadId: null, kinds: ["quarantine"] }),
      log,
    });
    this.timers = new Timers({
      sql,
      clock,
      look: (id) => looker.look(id),
      commit,
      reload: () => looker.reload(),
      wipe: (id) => wipeInside({ sql, looker, wipe }, id),
      wiped: () => this.feed.publish({ n: 0, leadId: null, kinds: ["wiped"] }),
      committed,
      log,
    });
    const moved = (leadIds: readonly string[]) => this.#moved(leadIds);
    this.outbox = new Outbox({
      sql,
      clock,
      pack: packer({ sql, links, files, setup: () => this.setup }),
      channels,
      troubled: () => this.feed.publish({ n: 0, leadId: null, kinds: ["trouble"] }),
      chance: config.chance ?? Math.random,
      moved,
      log,
    });
    this.watch = new Watch(this);
    this.office = new Office(this);
    this.roster = new Roster(this);
    this.sweep = new Sweep(this);
    this.morning = new Morning(this);
    this.keys = new ApiKeys(this);
    this.playbacks = new Playbacks(sql.path, this.#id, unset, () =>
      this.feed.publish({ n: 0, leadId: null, kinds: ["playback"] }),
    );
    this.letters = new Correspondence(this);
    this.heldReplies = new HeldReplies(this);
    this.#looker.usualOf = (sourceId) => Math.max(...this.sources.rhythm(sourceId).perHour);
    this.imports = new Importer(this, log);
  }

  get setup(): Setup {
    return this.#looker.setup;
  }

  /**
   * Put a changed setup in force; every version is kept.
   * @throws Refusal when a part of it cannot be used.
   */
  changeSetup(setup: Setup, by: string | null = null, owes?: SweepKind): void {
    const problem = unusable(setup, this.clock.now());
    if (problem) throw new Refusal(problem);
    this.sql.transaction(() => {
      keepSetup(this.sql, setup, this.clock.now(), by);
      this.office.note(this.setup, setup, by);
      if (this.setup.policies.desk !== setup.policies.desk) this.sweep.owe("reckon");
      if (owes) this.sweep.owe(owes);
    });
    this.#looker.setup = setup;
    this.fellBack = null;
    this.roster.plan();
    this.morning.plan();
    void this.sweep.run();
    this.feed.publish({ n: 0, leadId: null, kinds: ["setup"] });
  }

  /** The world around one lead, for questions that change nothing. */
  look(leadId: string | null): World {
    return this.#looker.look(leadId);
  }

  /** Prepare a new id of the desk's own kind. */
  newId(prefix: string): string {
    return this.#id(prefix);
  }

  get looker(): Looker {
    return this.#looker;
  }

  get loads(): Readonly<Record<string, number>> {
    return this.#looker.loads;
  }

  /** Look, decide, commit: one uninterrupted piece and one transaction. `also` writes more inside it. */
  act(leadId: string | null, decide: (world: World) => Decided, also?: (plan: Plan) => void): Result {
    let result: Decided;
    let n = 0;
    try {
      result = this.sql.transaction(() => {
        const decided = decide(this.#looker.look(leadId));
        if (decided.ok) {
          n = this.#commit(decided.plan);
          also?.(decided.plan);
        }
        return decided;
      });
    } catch (error) {
      this.#looker.reload();
      if (error instanceof Refusal) return { ok: false, problem: error.problem };
      throw error;
    }
    if (result.ok) this.#committed([result.plan], n);
    return result;
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
        const pair = decide(this.#looker.look(leadId));
        if (pair.ok) for (const plan of [pair.first, pair.second]) n = this.#commit(plan);
        return pair;
      });
    } catch (error) {
      this.#looker.reload();
      throw error;
    }
    if (!decided.ok) return decided;
    this.#committed([decided.first, decided.second], n);
    return { ok: true, plan: decided.first.leadId === leadId ? decided.first : decided.second };
  }

  /** Join another lead to this one. */
  join(leadId: string, otherId: string, by: string): Result {
    const other = this.#looker.lead(otherId);
    if (!other) return refuse(404, "No such lead", "`with` names no lead.", "with");
    return this.actPair(leadId, (world) => join(world, other, { kind: "person", id: by }));
  }

  /** Take apart again what was joined. */
  part(leadId: string, otherId: string, by: string): Result {
    const other = this.#looker.lead(otherId);
    if (!other) return refuse(404, "No such lead", "`from` names no lead.", "from");
    return this.actPair(leadId, (world) =>
      part(world, this.reader.events(leadId), other, this.reader.events(otherId), by),
    );
  }

  /** Leads that may be or surely are the person with these facts: shown while somebody types. */
  whoMayBe(
    source: Source,
    fields: Readonly<Record<string, string>>,
  ): { sure: Lead | null; likely: MaybeSame[]; unread: readonly string[] } {
    const understood = understand(source, this.setup.policies, fields);
    if (!understood.ok) return { sure: null, likely: [], unread: understood.unread };
    const { facts } = understood;
    const unread = facts.unread ?? [];
    const sure = this.#looker.match([...facts.phones, ...facts.emails]);
    return {
      sure: sure && this.#looker.lead(sure.leadId),
      likely: sure ? [] : this.#looker.likely(facts),
      unread,
    };
  }

  /** Enter an inquiry by hand. A known phone number or address joins it to its lead. */
  enter(entry: HandEntry): Result {
    const { by, source } = entry;
    const fields = bounded(entry.fields);
    const understood = fields && understand(source, this.setup.policies, fields);
    if (!fields || !understood?.ok)
      return refuse(
        422,
        "No way to tell who it is",
        "Give a name, a phone number or a mail address that can be used.",
        "phone",
      );
    const { facts } = understood;
    const match = this.#looker.match([...facts.phones, ...facts.emails]);
    const known = match && this.#looker.lead(match.leadId);
    const unseen = known && entry.maySee?.(known) === false;
    const goesTo = unseen ? ({ kind: "rules" } as const) : entry.goesTo;
    const more = unseen ? undefined : entry.more;
    const id = this.#id("inq");
    const decide = (world: World) =>
      receive(world, {
        inquiryId: id,
        source,
        facts: unseen ? NOTHING_SAID : facts,
        ...(unseen && { unseen: writtenDown(fields), unanswered: "somebody of ours wrote it down" }),
        matchedOn: match?.on ?? null,
        by: { kind: "person", id: by },
        goesTo,
        likely: match ? [] : this.#looker.likely(facts),
      });
    return this.act(match?.leadId ?? null, decide, (plan) => {
      this.sql.run(
        this.sql.q.insertInto("inquiries").values({
          id,
          sourceId: source.id,
          receivedAt: this.clock.now(),
          dedupe: null,
          fingerprint: null,
          contentType: "application/json",
          headersJson: "{}",
          raw: Buffer.from(JSON.stringify(fields)),
          state: "understood",
          reason: null,
          leadId: plan.leadId,
          matched: plan.before ? "sure" : "new",
        }),
      );
      this.intake.countArrivals(source.id, this.clock.now(), 1);
      if (!more) return;
      const learned = learn(this.#looker.look(plan.leadId), more, by);
      if (!learned.ok) throw new Refusal(learned.problem);
      if (learned.plan.events.length > 0) this.#commit(learned.plan);
    });
  }

  /** Try a quarantined inquiry again with what is known now. Null when it is not in quarantine. */
  async replay(
    inquiryId: string,
    insisted = false,
  ): Promise<{ quarantined: boolean; reason: string | null; leadId: string | null } | null> {
    const { q } = this.sql;
    const row = this.sql.get(
      q
        .selectFrom("inquiries")
        .selectAll()
        .where("id", "=", inquiryId)
        .where("state", "=", raw.lit("quarantined")),
    );
    const source = row && this.setup.sources.find((s) => s.id === row.sourceId);
    if (!row || !source) return null;
    const headers = JSON.parse(row.headersJson) as Record<string, string>;
    const parsed = await this.payloads.read({ contentType: row.contentType, headers, raw: row.raw });
    const made = this.sql.transaction(() => {
      // Only from quarantine: two replays at once make one lead.
      if (!this.intake.isQuarantined(inquiryId)) return null;
      const done = this.intake.make(inquiryId, source, parsed, { insisted });
      const first = "plans" in done ? done.plans[0]! : null;
      const change = first
        ? ({
            state: "understood",
            reason: null,
            leadId: first.leadId,
            matched: first.before ? "sure" : "new",
          } as const)
        : { reason: "reason" in done ? done.reason : null, held: "held" in done && done.held ? 1 : 0 };
      this.sql.run(q.updateTable("inquiries").set(change).where("id", "=", inquiryId));
      return done;
    });
    if (!made) return null;
    if ("plans" in made) this.#committed(made.plans, made.n);
    return {
      quarantined: !("plans" in made),
      reason: "reason" in made ? made.reason : null,
      leadId: "plans" in made ? made.plans[0]!.leadId : null,
    };
  }

  /** Commit what was decided elsewhere in this process, one after the other inside the caller's transaction. */
  commitAll(plans: readonly Plan[]): number {
    let n = 0;
    for (const plan of plans) n = this.#commit(plan);
    return n;
  }

  /** Tell timers, outbox and browsers of plans that are on disk. */
  tellOf(plans: readonly Plan[], n: number): void {
    this.#committed(plans, n);
  }

  #committed(plans: readonly Plan[], n: number): void {
    let messages = 0;
    for (const plan of plans) {
      this.timers.heed(plan);
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
    if (messages > 0) this.outbox.kick();
  }

  /** Delivery states are no events; they are told under the number of the newest one. */
  #moved(leadIds: readonly string[]): void {
    for (const leadId of leadIds) this.feed.publish({ n: 0, leadId, kinds: ["delivery"] });
  }

  /** Queue a notice that is about no lead. Call it inside a transaction. */
  queueNotice(
    notice: Pick<OutboxRow, "channel" | "key" | "subject" | "body" | "personId" | "purpose"> & {
      to: string;
      attachments?: readonly Attachment[];
    },
  ): void {
    const { to, attachments, ...rest } = notice;
    const now = this.clock.now();
    const row = {
      ...rest,
      id: this.#id("msg"),
      toAddress: to,
      fromAddress: rest.channel === "email" ? this.setup.policies.company.email : "Kite Bell",
      attachmentsJson: attachments?.length ? JSON.stringify(attachments) : null,
      linkJson: null,
      headersJson: null,
      leadId: null,
      state: "queued" as const,
      attempts: 0,
      nextAt: now,
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

  /**
   * Do from now on what falls due by itself, and go on with what was cut off. The one place where all of it is started.
   * Messages stay queued with `outbox: false`: for measuring intake alone.
   */
  start({ outbox = true } = {}): void {
    this.timers.start();
    this.watch.start();
    this.roster.start();
    this.morning.start();
    if (outbox) this.outbox.start();
    void this.sweep.run();
    this.imports.resume();
    void this.intake.resume();
  }

  async close(): Promise<void> {
    this.timers.stop();
    this.watch.stop();
    this.roster.stop();
    this.morning.stop();
    this.playbacks.stop();
    this.imports.stop();
    await this.sweep.stop();
    await this.intake.stop();
    this.payloads.close();
    await this.imports.settled();
    this.outbox.stop();
    await Promise.all(Object.values(this.#channels).map((c) => c.close()));
    this.sql.close();
  }
}

/** Open the desk kept in `config.data`, making it when there is none. */
export async function openDesk(config: DeskConfig): Promise<Desk> {
  const path = config.data === ":memory:" ? ":memory:" : joinPath(config.data, DATABASE);
  return new Desk(await Sql.open(path, { durable: config.durable ?? true }), config);
}

/**
 * The newest set-up that can be used. A desk whose newest can't goes by the one before, and takes inquiries all the same.
 * @throws with a sentence when there are versions and none of them can be used.
 */
function storedSetup(sql: Sql, { setup, clock }: DeskConfig): { setup: Setup; fellBack: string | null } {
  let fellBack: string | null = null;
  for (const version of keptSetups(sql)) {
    const problem = unusable(version.setup, clock.now());
    if (!problem) {
      const { zone } = version.setup.policies.desk;
      const when = dateTime(version.at, zone, clock.now());
      return {
        setup: version.setup,
        fellBack:
          fellBack && `${fellBack} The desk goes by the set-up of ${when} until somebody saves another.`,
      };
    }
    fellBack ??= `The newest set-up can’t be used: ${problem.detail} (${problem.errors?.[0]?.path ?? "set-up"}).`;
  }
  if (fellBack) throw new Error(`${fellBack} No earlier one can be used either.`);
  keepSetup(sql, setup, clock.now(), null);
  return { setup, fellBack: null };
}
