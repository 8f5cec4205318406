import { blank } from "./blank.ts";
import { entryOf, type LeadEvent } from "./events.ts";
import type { CadenceRun, Lead } from "./lead.ts";
import { reasonHolds } from "./reasons.ts";

type Mutable<T> = { -readonly [K in keyof T]: T[K] };

/**
 * The lead after one more event; `null` before its first.
 * @throws when the event is not the lead's next one: then a row and its events have come apart.
 */
export function fold(lead: Lead | null, event: LeadEvent): Lead {
  const before = lead ?? blank(event);
  if (event.seq !== before.seq + 1)
    throw new Error(`Lead ${event.leadId}: event ${event.seq} cannot follow ${before.seq}.`);
  return foldNext(before, event);
}

/** Like {@link fold}, where events that do not matter to the reader have been left out in between. */
export function foldNext(lead: Lead | null, event: LeadEvent): Lead {
  const before = lead ?? blank(event);
  const change = entryOf(event).fold(before, event.data, event);
  // Copied in one piece and then changed: events change leads in dozens of shapes, which a literal of two spreads takes hard.
  const after: Mutable<Lead> = { ...before };
  Object.assign(after, change);
  after.seq = event.seq;
  after.lastActivityAt = event.at;
  return settle(before, after, event.at);
}

/** What follows from any change: since when somebody has it, and which bells have lost their reason. */
function settle(before: Lead, after: Lead, at: number): Lead {
  const changedHands = before.ownerId !== after.ownerId && before.ownedSince === after.ownedSince;
  const held = changedHands ? { ...after, ownedSince: after.ownerId ? at : null } : after;
  const settled = before.parked && !after.parked ? withoutSlow(held, at) : held;
  if (settled.others.length === 0) return settled;
  const others = settled.others.filter((bell) => reasonHolds(bell, settled));
  return others.length === settled.others.length ? settled : { ...settled, others };
}

/** A slow plan of before cadences ended with the parking, without an event of its own. */
function withoutSlow(lead: Lead, at: number): Lead {
  const isSlow = (run: CadenceRun) => run.id.startsWith("slow.") && !run.ended;
  if (!lead.cadences.some(isSlow)) return lead;
  const ended = { state: "stopped", at: null, ended: { at, why: "woken" } } as const;
  return { ...lead, cadences: lead.cadences.map((run) => (isSlow(run) ? { ...run, ...ended } : run)) };
}

/** The lead as all its events make it; null for none. */
export function foldAll(events: Iterable<LeadEvent>): Lead | null {
  let lead: Lead | null = null;
  for (const event of events) lead = fold(lead, event);
  return lead;
}
