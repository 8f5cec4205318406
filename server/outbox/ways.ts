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
  readonly #failing = new Map<
    WayOut,
    { since: number; error: string; times: number; messages: ReadonlySet<string> }
  >();
  /** Those by which something has got through, and nothing failed since: what fails now may be its own fault. */
  readonly #proven = new Set<WayOut>();
  /** Those by which something has got through since the desk was started, or since they lead where they do. */
  readonly #known = new Set<WayOut>();

  /** `changed` is told when a way goes down and when it comes back. */
  constructor(clock: Clock, changed: () => void) {
    this.#clock = clock;
    this.#changed = changed;
  }

  /** A message did not get through. Gives whether it may be its own fault: what went before it did get through. */
  failed(channel: WayOut, error: string, messageId: string): boolean {
    const before = this.#failing.get(channel);
    const times = (before?.times ?? 0) + 1;
    const messages = new Set(before?.messages);
    if (messages.size < ENOUGH) messages.add(messageId);
    this.#failing.set(channel, { since: before?.since ?? this.#clock.now(), error, times, messages });
    if (times === ENOUGH) this.#changed();
    return this.#proven.delete(channel);
  }

  /** Something got through. Gives whether that is news: many had failed since the last time, or nobody knew yet. */
  well(channel: WayOut): boolean {
    const wasDown = this.isDown(channel);
    // One that fails again and again while nothing else is tried says nothing of the way.
    const isNews = (this.#failing.get(channel)?.messages.size ?? 0) >= ENOUGH || !this.#known.has(channel);
    this.#known.add(channel);
    this.#proven.add(channel);
    this.#failing.delete(channel);
    if (wasDown) this.#changed();
    return isNews;
  }

  /** It leads elsewhere from now on: what failed before says nothing of it. */
  forget(channel: WayOut): void {
    this.#proven.delete(channel);
    this.#known.delete(channel);
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
