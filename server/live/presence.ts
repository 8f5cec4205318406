/** How long somebody counts as there after they were heard of last (ms). */
const LASTS = 45_000;

/**
 * Who has which lead open just now. Kept in memory alone: it is true for seconds, and a restart forgets nothing that
 * matters. `elapsed` gives milliseconds that never go back, whatever is done to clocks.
 */
export class Presence {
  readonly #there = new Map<string, Map<string, number>>();
  readonly #elapsed: () => number;
  readonly #changed: (leadId: string) => void;

  constructor(changed: (leadId: string) => void, elapsed: () => number = () => performance.now()) {
    this.#changed = changed;
    this.#elapsed = elapsed;
  }

  /** Somebody has the lead open, or has it open still. Gives who else has. */
  here(leadId: string, personId: string): readonly string[] {
    const people = this.#there.get(leadId) ?? new Map<string, number>();
    const isNew = !this.#others(leadId, "").includes(personId);
    people.set(personId, this.#elapsed());
    this.#there.set(leadId, people);
    if (isNew) this.#changed(leadId);
    this.#forget();
    return this.#others(leadId, personId);
  }

  /** They have closed it. */
  gone(leadId: string, personId: string): void {
    const people = this.#there.get(leadId);
    if (!people?.delete(personId)) return;
    if (people.size === 0) this.#there.delete(leadId);
    this.#changed(leadId);
  }

  #others(leadId: string, personId: string): string[] {
    const since = this.#elapsed() - LASTS;
    return [...(this.#there.get(leadId) ?? [])].flatMap(([id, at]) =>
      id !== personId && at > since ? [id] : [],
    );
  }

  /** Nobody stays for ever who never said goodbye. */
  #forget(): void {
    const since = this.#elapsed() - LASTS;
    for (const [leadId, people] of this.#there) {
      for (const [id, at] of people) if (at <= since) people.delete(id);
      if (people.size === 0) this.#there.delete(leadId);
    }
  }
}
