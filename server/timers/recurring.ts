import type { Logger } from "pino";
import type { Clock } from "../clock.ts";

/** How soon what failed is tried again (ms). */
const AGAIN = 60_000;

/**
 * Something the desk does again and again, each time at a moment it finds out itself. It knows when it is next due, as
 * timers do, so that a rehearsal can move time there; running, it looks at the clock now and then.
 */
export abstract class Recurring {
  readonly #clock: Clock;
  readonly #nap: number;
  readonly #log: Logger;
  #handle: NodeJS.Timeout | null = null;
  #stopped = false;
  /** When it is next due (epoch ms). */
  nextDue: number;

  /** `nap` is how often the clock is looked at while it runs (ms). */
  protected constructor({ clock, log }: { clock: Clock; log: Logger }, nap: number) {
    this.#clock = clock;
    this.#log = log;
    this.#nap = nap;
    this.nextDue = clock.now();
  }

  /** Do it now, and find out when it is due again. */
  abstract run(): unknown;

  start(): void {
    void this.#turn().then(() => {
      if (this.#stopped) return;
      this.#handle = setTimeout(() => this.start(), this.#nap);
      this.#handle.unref();
    });
  }

  /** Never throws. */
  async #turn(): Promise<void> {
    try {
      if (this.nextDue <= this.#clock.now()) await this.run();
    } catch (error) {
      if (this.#stopped) return;
      // A full disk must not end the desk: it is tried again.
      this.#log.error({ err: error }, "what recurs could not be done; it is tried again");
      this.nextDue = this.#clock.now() + AGAIN;
    }
  }

  stop(): void {
    this.#stopped = true;
    if (this.#handle) clearTimeout(this.#handle);
  }
}
