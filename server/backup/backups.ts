import { existsSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { Worker } from "node:worker_threads";
import { toKeep } from "../../core/backup/keep.ts";
import type { BackupPolicy } from "../../core/policy/backups.ts";
import { nextWeekly } from "../../core/time/weekly.ts";
import { Sealer } from "../db/sealer.ts";
import type { Engine } from "../engine/engine.ts";
import { Recurring } from "../timers/recurring.ts";
import { type BackupAsked, backupsIn, dropBackups, type Manifest } from "./backup.ts";

/** How often the clock is looked at (ms). */
const NAP = 5_000;
const DUE = "backup-due";
const DONE = "backup-done";
/** Under which name the passphrase is kept. */
const PASSPHRASE = "backup-passphrase";
/** A backup older than this is old: the one of a night has not been made (ms). */
const OLD = 36 * 3_600_000;

const workerFile = join(dirname(fileURLToPath(import.meta.url)), "backup-worker.mjs");

/** How it went the last time. */
export interface LastBackup {
  /** Epoch ms. */
  readonly at: number;
  readonly state: "running" | "done" | "failed";
  readonly error: string | null;
}

/** Backs the desk up at its time and at a press, in a thread, and keeps as many as its pattern says. */
export class Backups extends Recurring {
  readonly #desk: Engine;
  readonly #data: string | null;
  /** Where they are put. */
  readonly place: string;
  readonly #sealer: Sealer;
  #policy: BackupPolicy;
  #zone: string;
  #running: Promise<void> | null = null;
  #worker: Worker | null = null;
  #last: LastBackup | null = null;

  constructor(desk: Engine, data: string | null, place: string) {
    super(desk, NAP);
    this.#desk = desk;
    this.#data = data;
    this.#sealer = new Sealer(data);
    this.place = place;
    const read = () => {
      const { backups, desk: hours } = desk.setup.policies;
      return [backups, hours.zone] as const;
    };
    [this.#policy, this.#zone] = read();
    const due = desk.kept.counter(DUE);
    if (!this.#policy.on || !due) this.plan();
    else this.nextDue = due;
    desk.onSetup({
      after: () => {
        const before = this.#policy;
        const zone = this.#zone;
        [this.#policy, this.#zone] = read();
        const { on, time } = this.#policy;
        if (on !== before.on || time !== before.time || zone !== this.#zone) this.plan();
      },
    });
  }

  /** Find out when the next one is due, from now on. */
  plan(): void {
    const { clock, kept } = this.#desk;
    const { on, time } = this.#policy;
    this.nextDue =
      on && this.#isPossible()
        ? nextWeekly({ weekday: null, time }, this.#zone, clock.now())
        : Number.POSITIVE_INFINITY;
    if (on) kept.setCounter(DUE, Number.isFinite(this.nextDue) ? this.nextDue : 0);
  }

  /** A desk in memory has nothing to back up, and one that was not built has no thread for it. */
  #isPossible(): boolean {
    return this.#data !== null && existsSync(workerFile);
  }

  get last(): LastBackup | null {
    return this.#last;
  }

  /** Whether they are sealed by a passphrase. */
  get isSealed(): boolean {
    return this.#desk.kept.secret(PASSPHRASE) !== null;
  }

  /** Seal those made from now on; null: they are not sealed. */
  seal(passphrase: string | null): void {
    if (passphrase === null) this.#desk.kept.dropSecret(PASSPHRASE);
    else this.#desk.kept.keepSecret(PASSPHRASE, this.#sealer.seal(passphrase));
  }

  /** Those there are, the newest first. */
  all(): { readonly name: string; readonly manifest: Manifest }[] {
    return backupsIn(this.place);
  }

  /** When the newest was made (epoch ms); null when none was. */
  get madeAt(): number | null {
    return this.#desk.kept.counter(DONE);
  }

  /** What is wrong with backups, in words; null when nothing is. */
  get trouble(): { readonly since: number; readonly said: string } | null {
    const now = this.#desk.clock.now();
    if (this.#last?.state === "failed")
      return { since: this.#last.at, said: `The last backup failed: ${this.#last.error}` };
    const done = this.madeAt;
    if (!this.#policy.on || done === null || now - done < OLD) return null;
    return { since: done + OLD, said: "The last backup is more than a day and a half old." };
  }

  /** It is its time; what the pattern keeps no more goes. What was missed while the desk was off is made up for once. */
  async run(): Promise<void> {
    this.plan();
    await this.now();
    if (this.#last?.state === "done") this.#prune();
  }

  /** Make one now; one that runs is waited for. Never rejects: what went wrong is told by {@link last}. */
  now(): Promise<void> {
    this.#running ??= this.#make().finally(() => {
      this.#running = null;
    });
    return this.#running;
  }

  async #make(): Promise<void> {
    const { clock, log, kept, feed } = this.#desk;
    const at = clock.now();
    const put = (state: LastBackup["state"], error: string | null = null) => {
      this.#last = { at, state, error };
      feed.publish({ n: 0, leadId: null, kinds: ["backups"] });
    };
    put("running");
    try {
      if (!this.#isPossible()) throw new Error("This desk keeps nothing on disk.");
      await this.#inThread({ data: this.#data!, place: this.place, passphrase: this.#passphrase(), now: at });
      kept.setCounter(DONE, at);
      put("done");
    } catch (error) {
      log.error({ err: error }, "a backup failed");
      put("failed", error instanceof Error ? error.message : String(error));
    }
  }

  #passphrase(): string | null {
    const sealed = this.#desk.kept.secret(PASSPHRASE);
    if (sealed === null) return null;
    const passphrase = this.#sealer.open(sealed);
    if (passphrase === null)
      throw new Error(
        "The passphrase of backups can't be read any more: the key beside the database is another one. Enter it again.",
      );
    return passphrase;
  }

  #inThread(asked: BackupAsked): Promise<void> {
    return new Promise((done, failed) => {
      const worker = new Worker(workerFile, { workerData: asked });
      this.#worker = worker;
      worker.on("message", ({ error }: { error?: string }) =>
        error === undefined ? done() : failed(new Error(error)),
      );
      worker.on("error", failed);
      worker.on("exit", () => failed(new Error("It was cut off.")));
      worker.unref();
    });
  }

  /** Take away what the pattern keeps no more. */
  #prune(): void {
    const all = this.all();
    const kept = toKeep(
      all.map((b) => b.manifest.at),
      this.#policy.keep,
      this.#zone,
    );
    dropBackups(
      this.place,
      all.filter((b) => !kept.has(b.manifest.at)).map((b) => b.name),
    );
  }

  override stop(): void {
    super.stop();
    void this.#worker?.terminate();
  }
}
