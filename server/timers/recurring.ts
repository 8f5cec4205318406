import type { Clock } from "../clock.ts";

/**
 * Something the desk does again and again, each time at a moment it finds out itself. It knows when it is next due, as
 * timers do, so that a rehearsal can move time there; running, it looks at the clock now and then.
 */
export abstract class Recurring {
  readonly #clock: Clock;
  readonly #nap: number;
  #handle: NodeJS.Timeout | null = null;
  /** When it is next due (epoch ms). */
  nextDue: number;

  /** `nap` is how often the clock is looked at while it runs (ms). */
  protected constructor(clock: Clock, nap: number) {
    this.#clock = clock;
    this.#nap = nap;
    this.nextDue = clock.now();
  }

  /** Do it now, and find out when it is due again. */
  abstract run(): unknown;

  start(): void {
    if (this.nextDue <= this.#clock.now()) this.run();
    this.#handle = setTimeout(() => this.start(), this.#nap);
    this.#handle.unref();
  }

  stop(): void {
    if (this.#handle) clearTimeout(this.#handle);
  }
}
