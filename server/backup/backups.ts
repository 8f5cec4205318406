import { join } from "node:path";
import type { Worker } from "node:worker_threads";
import { readBucketAddress } from "../../core/backup/bucket-address.ts";
import type { BackupPolicy, BackupsAway } from "../../core/policy/backups.ts";
import { nextWeekly } from "../../core/time/weekly.ts";
import { BACKUPS } from "../db/folder.ts";
import { Sealer } from "../db/sealer.ts";
import type { Engine } from "../engine/engine.ts";
import { hasThread, startThread } from "../threads.ts";
import { Recurring } from "../timers/recurring.ts";
import { backupsIn, clearLeft, type Manifest } from "./backup.ts";
import type { WorkAsked, WorkDone } from "./backup-worker.ts";
import { BadBackup } from "./sealed-file.ts";

/** How often the clock is looked at (ms). */
const NAP = 5_000;
const DUE = "backup-due";
const DONE = "backup-done";
/** Under which names the passphrase is kept, and the secret of the key of a bucket. */
const PASSPHRASE = "backup-passphrase";
const SECRET = "backup-bucket-secret";
/** A backup older than this is old: the one of a night has not been made (ms). */
const OLD = 36 * 3_600_000;
/** How soon one that failed is tried again (ms). */
const AGAIN = 3_600_000;
/** One that takes longer hangs, on a place that does not answer: it is cut off, so that the next one can be made (ms). */
const LONGEST = 12 * 3_600_000;

/** How it went the last time. */
export interface LastBackup {
  /** Epoch ms. */
  readonly at: number;
  readonly state: "running" | "done" | "failed";
  readonly error: string | null;
  /** What is wrong with its copy in the bucket: the backup itself is whole. */
  readonly awayError: string | null;
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
    // A copy that a kill left half done would keep whoever is erased since. A place elsewhere may not answer: the next backup clears it.
    if (data !== null) for (const folder of [data, join(data, BACKUPS)]) clearLeft(folder);
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
    return this.#data !== null && hasThread("backup");
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

  /** Where copies go, and whether the secret of its key is known; null where none go. */
  get away(): (BackupsAway & { readonly hasSecret: boolean }) | null {
    const { away } = this.#policy;
    return away ? { ...away, hasSecret: this.#desk.kept.secret(SECRET) !== null } : null;
  }

  /**
   * Find out whether copies could go to a bucket, by writing something small into it; the secret of its key is the one that is kept
   * unless another is given. Gives a sentence when they could not.
   */
  async tryAway({ url, region, keyId }: BackupsAway, secret: string | null): Promise<string | null> {
    const address = readBucketAddress(url, region);
    if ("wrong" in address) return address.wrong;
    if (!this.isSealed) return "Seal backups by a passphrase first: a bucket is somebody else's machine.";
    if (this.#data === null) return "This desk keeps nothing on disk.";
    const known = secret ?? this.#secret();
    if (known === null) return "Enter the secret of the key.";
    // Loaded when it is wanted: most desks have no bucket.
    const [{ tryBucket }, { Bucket }] = await Promise.all([import("./away.ts"), import("./bucket.ts")]);
    const bucket = new Bucket(address, { keyId, secret: known });
    try {
      await tryBucket(bucket, this.#data);
    } catch (error) {
      if (error instanceof BadBackup) return error.message;
      throw error;
    } finally {
      bucket.close();
    }
    return null;
  }

  /** The secret of the key by which copies are made from now on. */
  keepAway(secret: string): void {
    this.#desk.kept.keepSecret(SECRET, this.#sealer.seal(secret));
  }

  /** Nothing is copied away any more: the secret is forgotten. */
  forgetAway(): void {
    this.#desk.kept.dropSecret(SECRET);
  }

  #secret(): string | null {
    const sealed = this.#desk.kept.secret(SECRET);
    return sealed === null ? null : this.#sealer.open(sealed);
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
    if (this.#last?.awayError)
      return { since: this.#last.at, said: `The last backup was not copied away: ${this.#last.awayError}` };
    const done = this.madeAt;
    if (!this.#policy.on || done === null || now - done < OLD) return null;
    return { since: done + OLD, said: "The last backup is more than a day and a half old." };
  }

  /**
   * It is its time; what the pattern keeps no more goes. What was missed while the desk was off is made up for once, and one that
   * failed is tried again soon: a full disk in the night may have room in the morning.
   */
  async run(): Promise<void> {
    this.plan();
    await this.#one(true);
    const { clock, kept } = this.#desk;
    if (this.#last?.state !== "failed" || !Number.isFinite(this.nextDue)) return;
    this.nextDue = Math.min(this.nextDue, clock.now() + AGAIN);
    kept.setCounter(DUE, this.nextDue);
  }

  /** Make one now; one that runs is waited for. Never rejects: what went wrong is told by {@link last}. */
  now(): Promise<void> {
    return this.#one(false);
  }

  #one(prune: boolean): Promise<void> {
    this.#running ??= this.#make(prune).finally(() => {
      this.#running = null;
    });
    return this.#running;
  }

  async #make(prune: boolean): Promise<void> {
    const { clock, log, kept, feed } = this.#desk;
    const at = clock.now();
    const put = (
      state: LastBackup["state"],
      error: string | null = null,
      awayError: string | null = null,
    ) => {
      this.#last = { at, state, error, awayError };
      feed.publish({ n: 0, leadId: null, kinds: ["backups"] });
    };
    put("running");
    try {
      if (!this.#isPossible()) throw new Error("This desk keeps nothing on disk.");
      const away = this.#whereAway();
      const { error, awayError } = await this.#inThread({
        data: this.#data!,
        place: this.place,
        passphrase: this.#passphrase(),
        now: at,
        keeping: { keep: this.#policy.keep, zone: this.#zone, prune },
        away: away && "wrong" in away ? null : away,
      });
      if (error !== null) throw new Error(error);
      kept.setCounter(DONE, at);
      const wrong = away && "wrong" in away ? away.wrong : awayError;
      if (wrong !== null) log.error({ awayError: wrong }, "a backup was not copied away");
      put("done", null, wrong);
    } catch (error) {
      log.error({ err: error }, "a backup failed");
      put("failed", error instanceof Error ? error.message : String(error));
    }
  }

  /** Where a copy goes; what is wrong with that stops no backup. */
  #whereAway(): WorkAsked["away"] | { readonly wrong: string } {
    const { away } = this.#policy;
    if (!away) return null;
    const address = readBucketAddress(away.url, away.region);
    if ("wrong" in address) return address;
    const secret = this.#secret();
    if (secret === null)
      return { wrong: "The secret of the bucket’s key can’t be read. Enter it again, or copy nothing away." };
    return { address, key: { keyId: away.keyId, secret } };
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

  #inThread(asked: WorkAsked): Promise<WorkDone> {
    return new Promise((done, failed) => {
      const worker = startThread("backup", { workerData: asked });
      this.#worker = worker;
      const late = setTimeout(() => {
        failed(
          new Error("It took more than twelve hours and was cut off: the place of backups may not answer."),
        );
        void worker.terminate();
      }, LONGEST);
      late.unref();
      worker.on("message", done);
      worker.on("error", failed);
      worker.on("exit", () => {
        clearTimeout(late);
        failed(new Error("It was cut off."));
      });
      worker.unref();
    });
  }

  /** Nothing more begins; one that runs is cut off, and no longer writes when this resolves. */
  async close(): Promise<void> {
    this.stop();
    await this.#worker?.terminate();
    await this.#running;
  }
}
