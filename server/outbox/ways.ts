import type { Clock } from "../clock.ts";
import type { OutboxRow } from "../db/schema.ts";

type WayOut = OutboxRow["channel"];

/** A way out of the house that does not work. */
export interface Down {
  readonly channel: WayOut;
  readonly since: number;
  readonly error: string;
}

/** So many failures in a row make it the way's fault and not the message's. */
const ENOUGH = 2;

/** Knows which ways out work: one that fails again and again is down until something gets through. */
export class Ways {
  readonly #clock: Clock;
  readonly #changed: () => void;
  readonly #failing = new Map<WayOut, { since: number; error: string; times: number }>();

  /** `changed` is told when a way goes down and when it comes back. */
  constructor(clock: Clock, changed: () => void) {
    this.#clock = clock;
    this.#changed = changed;
  }

  failed(channel: WayOut, error: string): void {
    const before = this.#failing.get(channel);
    const times = (before?.times ?? 0) + 1;
    this.#failing.set(channel, { since: before?.since ?? this.#clock.now(), error, times });
    if (times === ENOUGH) this.#changed();
  }

  /** Something got through. Gives since when the way was down; null when it was not. */
  well(channel: WayOut): number | null {
    const before = this.#failing.get(channel);
    if (!before) return null;
    this.#failing.delete(channel);
    if (before.times < ENOUGH) return null;
    this.#changed();
    return before.since;
  }

  /** It leads elsewhere from now on: what failed before says nothing of it. */
  forget(channel: WayOut): void {
    if (this.#failing.delete(channel)) this.#changed();
  }

  /** Whether that way does not work now. */
  isDown(channel: WayOut): boolean {
    return (this.#failing.get(channel)?.times ?? 0) >= ENOUGH;
  }

  down(): readonly Down[] {
    return [...this.#failing]
      .filter(([, { times }]) => times >= ENOUGH)
      .map(([channel, { since, error }]) => ({ channel, since, error }));
  }
}
