import type { LeadEvent } from "../lead/events.ts";

/** How somebody answered an offer: what they did, and how long after they were asked (ms). */
export interface Answer {
  readonly did: "took" | "passed" | "lapsed";
  readonly after: number;
}

/** So many answers of a person are remembered: the latest. */
const REMEMBERED = 200;

/**
 * How each person has really answered offers so far. Somebody who is asked something they were never really asked answers
 * as they answered the offers before, one after the other: as often with a pass, and as fast. Learns from a record told in
 * the order in which it happened, so that nobody answers by what they did later.
 */
export class Answers {
  readonly #asked = new Map<string, { readonly to: readonly string[]; readonly at: number }>();
  readonly #answers = new Map<string, Answer[]>();
  readonly #next = new Map<string, number>();

  /** Something that really happened. */
  learn({ kind, data, leadId, at }: LeadEvent): void {
    if (kind === "offered") {
      this.#asked.set(leadId, { to: data.to, at });
      return;
    }
    if (kind !== "taken" && kind !== "passed" && kind !== "lapsed") return;
    const asked = this.#asked.get(leadId);
    // What was taken back from its owner was no offer.
    if (!asked || (kind === "lapsed" && data.taken)) return;
    const did = kind === "taken" ? "took" : kind;
    const people = kind === "lapsed" ? data.to : [data.personId];
    for (const id of people) if (asked.to.includes(id)) this.#add(id, { did, after: at - asked.at });
    if (kind === "passed") {
      const to = asked.to.filter((id) => id !== data.personId);
      this.#asked.set(leadId, { ...asked, to });
    } else this.#asked.delete(leadId);
  }

  #add(personId: string, answer: Answer): void {
    const known = this.#answers.get(personId);
    if (!known) this.#answers.set(personId, [answer]);
    else {
      known.push(answer);
      if (known.length > REMEMBERED) known.shift();
    }
  }

  /** How they would answer another offer; null when they have answered none yet. */
  of(personId: string): Answer | null {
    const known = this.#answers.get(personId);
    if (!known) return null;
    const nth = this.#next.get(personId) ?? 0;
    this.#next.set(personId, nth + 1);
    return known[nth % known.length]!;
  }
}
