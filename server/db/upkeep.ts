import type { Desk } from "../desk.ts";
import type { ClockWatch } from "../watch/health.ts";
import type { Folder } from "./folder.ts";

/** How often the disk is looked at (ms), and how often what was written is moved from the log into the file. */
const LOOK = 2_000;
const CHECKPOINT = 30_000;

/**
 * Looks after the database while the desk runs: moves its log into the file, so that a log that is lost costs half a
 * minute; and when the disk makes trouble, tries whether it is well again.
 */
export class Upkeep {
  readonly #desk: Desk;
  readonly #folder: Folder | null;
  readonly #clockWatch: ClockWatch;
  #handle: NodeJS.Timeout | null = null;
  #movedAt = 0;
  #written = -1;

  /** `folder` is null for a desk in memory. */
  constructor(desk: Desk, folder: Folder | null, clockWatch: ClockWatch) {
    this.#desk = desk;
    this.#folder = folder;
    this.#clockWatch = clockWatch;
  }

  /** The desk is open: everything into the file at once, so that there is one to be missed. */
  start(): void {
    this.#checkpoint();
    this.#folder?.reserve();
    this.#handle = setInterval(() => this.#look(), LOOK);
    this.#handle.unref();
  }

  stop(): void {
    if (this.#handle) clearInterval(this.#handle);
  }

  #look(): void {
    const { sql, log } = this.#desk;
    const jumped = this.#clockWatch.look();
    if (jumped !== 0) {
      log.warn(
        { seconds: Math.round(jumped / 1000) },
        "the machine's clock was set: bells go by the new time",
      );
      this.#desk.timers.refresh();
    }
    if (sql.trouble) this.tryAgain();
    else if (performance.now() - this.#movedAt >= CHECKPOINT && sql.written() !== this.#written)
      this.#checkpoint();
  }

  /** Whether something can be written again: a small write tells. */
  tryAgain(): void {
    const { kept, log } = this.#desk;
    try {
      kept.setCounter("tried-to-write", Date.now());
      this.#folder?.reserve();
      this.#desk.outbox.kick();
    } catch (error) {
      log.debug({ err: error }, "the disk is not well yet");
    }
  }

  #checkpoint(): void {
    const { sql } = this.#desk;
    this.#movedAt = performance.now();
    this.#written = sql.written();
    if (sql.checkpoint()) this.#folder?.note(true);
  }
}
