import { join as joinPath } from "node:path";
import { ApiKeys } from "./access/keys.ts";
import { Morning } from "./bells/morning.ts";
import { Sweep } from "./bells/sweep.ts";
import { Cadences } from "./cadence/cadences.ts";
import { DATABASE } from "./db/folder.ts";
import { Sql } from "./db/sql.ts";
import { Engine, type EngineConfig } from "./engine/engine.ts";
import { Importer } from "./import/importer.ts";
import { ByHand } from "./intake/by-hand.ts";
import { Guard } from "./intake/guard.ts";
import { Intake } from "./intake/intake.ts";
import { PayloadReader } from "./intake/payload-reader.ts";
import { Quarantine } from "./intake/quarantine.ts";
import { InquiryWorker } from "./intake/worker.ts";
import { Presence } from "./live/presence.ts";
import { Drafts } from "./messages/drafts.ts";
import { HeldReplies } from "./messages/held-replies.ts";
import { Opened } from "./messages/opened.ts";
import { Receipts } from "./messages/receipts.ts";
import { Suppressions } from "./messages/suppressions.ts";
import { TemplateRecord } from "./messages/template-record.ts";
import { Roster } from "./people/roster.ts";
import { Playbacks } from "./playback/playbacks.ts";
import { RoundsOf } from "./rounds/rounds.ts";
import { Office } from "./setup/office.ts";
import { Sources } from "./source/sources.ts";
import { SourceWatch } from "./source/watch.ts";

export interface DeskConfig extends EngineConfig {
  readonly durable?: boolean;
  /** Since when what was written may be missing, when the database's log was lost (epoch ms); null when it was not. */
  readonly lostSince?: number | null;
  /** Origins recordings of calls are fetched from. */
  readonly recordingsFrom?: () => readonly string[];
}

/** The desk: an engine and everything the outside may ask of it. There is exactly one in a process. */
export class Desk extends Engine {
  /** Who has which lead open just now. */
  readonly presence = new Presence((leadId) => this.feed.publish({ n: 0, leadId, kinds: ["here"] }));
  readonly payloads = new PayloadReader();
  readonly intake: Intake;
  readonly byHand: ByHand;
  readonly quarantine: Quarantine;
  /** What the carrier signs its reports with. */
  readonly carrierSecret: string;
  /** Keeps robots off the website forms. */
  readonly guard: Guard;
  readonly sources: Sources;
  readonly imports: Importer;
  readonly cadences: Cadences;
  readonly rounds: RoundsOf;
  readonly watch: SourceWatch;
  readonly office: Office;
  readonly roster: Roster;
  readonly playbacks: Playbacks;
  readonly keys: ApiKeys;
  readonly drafts: Drafts;
  readonly opened: Opened;
  readonly receipts: Receipts;
  readonly suppressions: Suppressions;
  readonly templateRecord: TemplateRecord;
  readonly heldReplies: HeldReplies;
  /** Reckons running bells again after hours or targets have changed. */
  readonly sweep: Sweep;
  readonly morning: Morning;
  readonly lostSince: number | null;
  readonly recordingsFrom: () => readonly string[];

  constructor(sql: Sql, config: DeskConfig) {
    super(sql, config);
    this.lostSince = config.lostSince ?? null;
    this.recordingsFrom = config.recordingsFrom ?? (() => []);
    this.guard = new Guard(this.kept.ownSecret("forms"), () => Date.now());
    this.carrierSecret = `whsec_${Buffer.from(this.kept.ownSecret("carrier"), "base64url").toString("base64")}`;
    this.sources = new Sources(sql, this.clock, () => this.setup, this.payloads);
    this.looker.usualOf = (sourceId) => Math.max(...this.sources.rhythm(sourceId).perHour);
    this.receipts = new Receipts(this);
    const worker = new InquiryWorker(this, this.receipts);
    this.intake = new Intake(this, this.payloads, worker);
    this.byHand = new ByHand(this, this.intake);
    this.watch = new SourceWatch(this, this.sources);
    this.roster = new Roster(this);
    this.office = new Office(this, this.roster);
    this.quarantine = new Quarantine(this, this.office, this.intake, this.payloads, worker);
    this.sweep = new Sweep(this);
    this.morning = new Morning(this, this.sources);
    this.keys = new ApiKeys(this, this.office);
    this.playbacks = new Playbacks(
      sql.path,
      this.newId,
      () => this.unset,
      () => this.feed.publish({ n: 0, leadId: null, kinds: ["playback"] }),
    );
    this.drafts = new Drafts(this);
    this.opened = new Opened(this);
    this.suppressions = new Suppressions(this, this.office);
    this.templateRecord = new TemplateRecord(this);
    this.heldReplies = new HeldReplies(this, this.office);
    this.imports = new Importer(this, this.intake);
    this.cadences = new Cadences(this, this.office);
    this.rounds = new RoundsOf(this);
  }

  /**
   * Do from now on what falls due on its own, and go on with what was cut off. The one place where all of it is started.
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
    await this.cadences.stop();
    await this.intake.stop();
    this.payloads.close();
    await this.imports.settled();
    this.outbox.stop();
    await Promise.all(Object.values(this.channels).map((c) => c.close()));
    this.sql.close();
  }
}

/** Open the desk kept in `config.data`, making it when there is none. */
export async function openDesk(config: DeskConfig): Promise<Desk> {
  const path = config.data === ":memory:" ? ":memory:" : joinPath(config.data, DATABASE);
  return new Desk(await Sql.open(path, { durable: config.durable ?? true }), config);
}
