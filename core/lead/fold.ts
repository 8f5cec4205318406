import { blank } from "./blank.ts";
import { entryOf, type LeadEvent } from "./events.ts";
import type { Lead } from "./lead.ts";
import { reasonHolds } from "./reasons.ts";

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
  const after: Lead = { ...before, ...change, seq: event.seq, lastActivityAt: event.at };
  return settle(before, after, event.at);
}

/** What follows from any change: since when somebody has it, and which bells have lost their reason. */
function settle(before: Lead, after: Lead, at: number): Lead {
  const changedHands = before.ownerId !== after.ownerId && before.ownedSince === after.ownedSince;
  const settled = changedHands ? { ...after, ownedSince: after.ownerId ? at : null } : after;
  if (settled.others.length === 0) return settled;
  const others = settled.others.filter((bell) => reasonHolds(bell, settled));
  return others.length === settled.others.length ? settled : { ...settled, others };
}

/** The lead as all its events make it; null for none. */
export function foldAll(events: Iterable<LeadEvent>): Lead | null {
  let lead: Lead | null = null;
  for (const event of events) lead = fold(lead, event);
  return lead;
}
