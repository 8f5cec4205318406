import { join as joinPath } from "node:path";
import type { StandsIn } from "../core/setup/change-stages.ts";
import { ApiKeys } from "./access/keys.ts";
import { OpenLinks } from "./access/open-links.ts";
import { Backups } from "./backup/backups.ts";
import { Morning } from "./bells/morning.ts";
import { Sweep } from "./bells/sweep.ts";
import { Customers } from "./book/customers.ts";
import { Cadences } from "./cadence/cadences.ts";
import { BACKUPS, BEFORE_UPGRADE, DATABASE } from "./db/folder.ts";
import { Sql } from "./db/sql.ts";
import { Engine, type EngineConfig } from "./engine/engine.ts";
import { Estimates } from "./estimates/estimates.ts";
import { Figures } from "./figures/figures.ts";
import { SpendBook } from "./figures/spend.ts";
import { HookLog } from "./hooks/hook-log.ts";
import { Hooks } from "./hooks/hooks.ts";
import { Importer } from "./import/importer.ts";
import { ByHand } from "./intake/by-hand.ts";
import { Guard } from "./intake/guard.ts";
import { Intake } from "./intake/intake.ts";
import { PayloadReader } from "./intake/payload-reader.ts";
import { Quarantine } from "./intake/quarantine.ts";
import { InquiryWorker } from "./intake/worker.ts";
import { LabBench } from "./lab/lab-bench.ts";
import { NeededBench } from "./lab/needed-bench.ts";
import { Letters } from "./letter/letters.ts";
import { Lists } from "./lists/lists.ts";
import { ListSends } from "./lists/sends.ts";
import { ListWatch } from "./lists/watch.ts";
import { Presence } from "./live/presence.ts";
import { Many } from "./many/many.ts";
import { Drafts } from "./messages/drafts.ts";
import { HeldReplies } from "./messages/held-replies.ts";
import { Opened } from "./messages/opened.ts";
import { Receipts } from "./messages/receipts.ts";
import { Suppressions } from "./messages/suppressions.ts";
import { TemplateRecord } from "./messages/template-record.ts";
import { Roster } from "./people/roster.ts";
import { Playbacks } from "./playback/playbacks.ts";
import { Erasures } from "./privacy/erasures.ts";
import { RoundsOf } from "./rounds/rounds.ts";
import { Search } from "./search/search.ts";
import { Office } from "./setup/office.ts";
import { Sources } from "./source/sources.ts";
import { SourceWatch } from "./source/watch.ts";
import type { Recurring } from "./timers/recurring.ts";
import { Today } from "./today/today.ts";

export interface DeskConfig extends EngineConfig {
  readonly durable?: boolean;
  /** Since when what was written may be missing, when the database's log was lost (epoch ms); null when it was not. */
  readonly lostSince?: number | null;
  /** Origins recordings of calls are fetched from. */
  readonly recordingsFrom?: () => readonly string[];
  /** Whether other systems that are told may stand in this house's own network. */
  readonly hooksInside?: () => boolean;
  /** Where backups are put; beside the database when left out. */
  readonly backups?: string;
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
  readonly hooks: Hooks;
  readonly estimates: Estimates;
  readonly customers: Customers;
  readonly lists: Lists;
  readonly listSends: ListSends;
  readonly search: Search;
  readonly many: Many;
  readonly today: Today;
  readonly figures: Figures;
  readonly spend: SpendBook;
  readonly rounds: RoundsOf;
  readonly watch: SourceWatch;
  readonly office: Office;
  readonly roster: Roster;
  readonly playbacks: Playbacks;
  readonly lab: LabBench;
  readonly needed: NeededBench;
  readonly keys: ApiKeys;
  readonly openLinks: OpenLinks;
  readonly drafts: Drafts;
  readonly opened: Opened;
  readonly receipts: Receipts;
  readonly suppressions: Suppressions;
  readonly templateRecord: TemplateRecord;
  readonly heldReplies: HeldReplies;
  /** Reckons running bells again after hours or targets have changed. */
  readonly sweep: Sweep;
  readonly morning: Morning;
  readonly letters: Letters;
  readonly backups: Backups;
  readonly erasures: Erasures;
  /** What the desk does again and again, each at its own moment. */
  readonly recurring: readonly Recurring[];
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
    this.openLinks = new OpenLinks(this, this.office);
    this.playbacks = new Playbacks(
      sql.path,
      this.newId,
      () => this.unset,
      () => this.feed.publish({ n: 0, leadId: null, kinds: ["playback"] }),
    );
    this.lab = new LabBench(this);
    this.needed = new NeededBench(this);
    this.drafts = new Drafts(this);
    this.opened = new Opened(this);
    this.suppressions = new Suppressions(this, this.office);
    this.templateRecord = new TemplateRecord(this);
    this.heldReplies = new HeldReplies(this, this.office);
    this.imports = new Importer(this, this.intake);
    this.cadences = new Cadences(this, this.office);
    this.rounds = new RoundsOf(this);
    this.lists = new Lists(this);
    this.many = new Many(this);
    this.today = new Today(this);
    this.figures = new Figures(this);
    const onDisk = config.data && config.data !== ":memory:" ? config.data : null;
    this.backups = new Backups(this, onDisk, config.backups ?? joinPath(onDisk ?? ".", BACKUPS));
    this.letters = new Letters(this, this.figures);
    this.erasures = new Erasures(this, this.office);
    this.spend = new SpendBook(this, this.office);
    const { clock, log } = this;
    this.search = new Search({ sql, clock, log, leads: this.looker.leads, setup: () => this.setup });
    this.estimates = new Estimates(this);
    this.hooks = new Hooks(this, config.data, config.hooksInside ?? (() => false));
    this.listSends = new ListSends(this, this.lists, this.hooks);
    this.recurring = [
      this.watch,
      this.roster,
      this.morning,
      new ListWatch(this, this.lists),
      this.listSends,
      this.letters,
      this.erasures,
      this.backups,
      new HookLog(this),
    ];
    this.customers = new Customers(this, this.office, this.hooks);
  }

  /**
   * Do from now on what falls due on its own, and go on with what was cut off. The one place where all of it is started.
   * Messages stay queued with `outbox: false`, and `index: false` keeps nothing up to be found by: for measuring intake alone.
   */
  start({ outbox = true, index = true } = {}): void {
    this.timers.start();
    for (const one of this.recurring) one.start();
    if (index) {
      this.search.start();
      this.lists.columns.start();
      this.figures.start();
    }
    if (outbox) this.outbox.start();
    this.hooks.start();
    void this.sweep.run();
    this.imports.resume();
    void this.intake.resume();
  }

  /** How many leads and deals stand in each stage. */
  standsIn(): StandsIn {
    return { lead: this.reader.leadsInStages(), deal: this.looker.book.dealsInStages() };
  }

  async close(): Promise<void> {
    this.timers.stop();
    for (const one of this.recurring) one.stop();
    this.search.stop();
    this.lists.columns.stop();
    this.playbacks.stop();
    this.lab.stop();
    this.needed.stop();
    this.hooks.stop();
    this.imports.stop();
    await this.erasures.close();
    await this.sweep.stop();
    await this.cadences.stop();
    await this.many.stop();
    await this.figures.stop();
    await this.intake.stop();
    this.payloads.close();
    await this.imports.settled();
    this.outbox.stop();
    await Promise.all(Object.values(this.channels).map((c) => c.close()));
    // Last: a place that does not answer holds up nothing else.
    await this.backups.close();
    this.sql.close();
  }
}

/** Open the desk kept in `config.data`, making it when there is none. */
export async function openDesk(config: DeskConfig): Promise<Desk> {
  const path = config.data === ":memory:" ? ":memory:" : joinPath(config.data, DATABASE);
  const copyBefore = path === ":memory:" ? null : joinPath(config.data, BEFORE_UPGRADE);
  return new Desk(await Sql.open(path, { durable: config.durable ?? true, copyBefore }), config);
}
