import type { LeadEvent } from "../lead/events.ts";
import type { Lead } from "../lead/lead.ts";
import type { Setup } from "../policy/setup.ts";
import { endOfDay, startOfDay } from "../time/defer.ts";
import type { Loads } from "./eligible.ts";

/** Who counts a lead as theirs: its owner, or the one person it is offered to. */
export function holderOf(lead: Lead | null): string | null {
  if (!lead || lead.closed || lead.customer) return null;
  return lead.ownerId ?? (lead.handOff?.state === "offered" ? (lead.handOff.to[0] ?? null) : null);
}

/** Move the load from whoever held the lead to whoever holds it now; a test is no load. Changes `loads`. */
export function shiftLoad(loads: Record<string, number>, before: Lead | null, after: Lead): void {
  const from = before?.test ? null : holderOf(before);
  const to = after.test ? null : holderOf(after);
  if (from === to) return;
  if (from) loads[from] = (loads[from] ?? 0) - 1;
  if (to) loads[to] = (loads[to] ?? 0) + 1;
}

/** Who has got the lead by this event; null when nobody has. What counts against a daily ceiling. */
export function gotBy(event: LeadEvent): string | null {
  if (event.kind === "taken") return event.data.personId;
  return event.kind === "given" ? event.data.to : null;
}

/** How many leads each person has got on one date of the desk. */
export class DayCount {
  /** The local day that is counted: epoch ms, end exclusive. */
  #day = { from: 0, to: 0 };
  #counts: Record<string, number> = {};

  /** The counts of the date of `now`. */
  of(setup: Setup, now: number): Loads {
    this.#turn(setup, now);
    return this.#counts;
  }

  count(setup: Setup, events: readonly LeadEvent[]): void {
    for (const event of events) {
      const person = gotBy(event);
      if (!person) continue;
      this.#turn(setup, event.at);
      this.#counts[person] = (this.#counts[person] ?? 0) + 1;
    }
  }

  #turn(setup: Setup, at: number): void {
    if (at >= this.#day.from && at < this.#day.to) return;
    const { zone } = setup.policies.desk;
    this.#day = { from: startOfDay(at, zone), to: endOfDay(at, zone) };
    this.#counts = {};
  }
}
