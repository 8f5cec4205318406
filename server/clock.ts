/** What time it is, in epoch ms. Everything in the server asks this and nothing else. */
export interface Clock {
  now(): number;
}

export const systemClock: Clock = { now: () => Date.now() };

/** A clock that runs on from where it is set, and can be moved. For rehearsal, demo data and tests. */
export class MovableClock implements Clock {
  #ahead: number;
  #heldAt: number | null;

  /** Starts at `at`; stands still until moved when `frozen`. */
  constructor(at: number, { frozen = false } = {}) {
    this.#ahead = at - Date.now();
    this.#heldAt = frozen ? at : null;
  }

  now(): number {
    return this.#heldAt ?? Math.floor(Date.now() + this.#ahead);
  }

  /** Stand still at `at`, until moved again or let run. */
  hold(at: number): void {
    this.#heldAt = at;
  }

  /** Run on from `at`. */
  runFrom(at: number): void {
    this.#heldAt = null;
    this.#ahead = at - Date.now();
  }
}
