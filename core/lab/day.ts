import { called } from "../lead/called.ts";
import type { Lead } from "../lead/lead.ts";
import { placeOf, rungSince } from "../lead/queue.ts";

/** How a lead hung on the wire from a moment on (epoch ms). */
export interface Hanging {
  readonly at: number;
  /** When its bell rings or rang; null: it hangs there no more. */
  readonly dueAt: number | null;
  readonly rung: boolean;
  readonly ownerId: string | null;
  readonly tries: number;
}

/** The leads that came on one day, as they hung on the wire. */
export interface WireDay {
  readonly from: number;
  readonly to: number;
  readonly leads: readonly {
    readonly id: string;
    readonly name: string;
    readonly states: readonly Hanging[];
  }[];
}

/** Watches the leads that come on a day: how each hangs on the wire, until the day is over. */
export class DayWatch {
  readonly #day: { readonly from: number; readonly to: number };
  readonly #leads = new Map<string, { name: string; states: Hanging[] }>();

  constructor(from: number, to: number) {
    this.#day = { from, to };
  }

  /** A lead after something has happened to it. */
  see(lead: Lead, at: number): void {
    const { from, to } = this.#day;
    if (lead.createdAt < from || at >= to) return;
    const { bell, ownerId, tries } = lead;
    const runs = bell?.state === "waiting" || bell?.state === "rung";
    const gone = lead.closed !== null || lead.parked !== null;
    // As the queue has it: who is listed while their bell still waits has not rung.
    const rung = placeOf(lead).place === "rung";
    const dueAt = gone ? null : runs ? bell.dueAt : rung ? rungSince(lead) : null;
    const state = { at, dueAt, rung, ownerId, tries };
    const known = this.#leads.get(lead.id);
    if (known) known.states.push(state);
    else this.#leads.set(lead.id, { name: called(lead), states: [state] });
  }

  told(): WireDay {
    return { ...this.#day, leads: [...this.#leads].map(([id, lead]) => ({ id, ...lead })) };
  }
}

/** How a lead hung at a moment; null where it did not. */
export function hangingAt(states: readonly Hanging[], at: number): Hanging | null {
  const last = states.findLast((s) => s.at <= at);
  return last && last.dueAt !== null ? last : null;
}
