import type { Lead } from "../../core/lead/lead.ts";
import type { TakeLink } from "../../core/message/outgoing.ts";
import { nameOf } from "../../core/policy/policy.ts";
import { dayTime } from "../../core/time/words.ts";
import type { Desk } from "../../server/desk.ts";

/** How a take link stands when it is opened. */
export type LinkStands =
  | { readonly state: "offered"; readonly lead: Lead; readonly until: number }
  | { readonly state: "yours"; readonly lead: Lead }
  | { readonly state: "over"; readonly lead: Lead; readonly because: string }
  | { readonly state: "unknown" };

/** A link works for its one offer, its person and its time; what it says afterwards is the lead's to tell. */
export function standsNow(desk: Desk, link: TakeLink | null): LinkStands {
  const lead = link && desk.look(link.leadId).lead;
  if (!link || !lead) return { state: "unknown" };
  const { handOff } = lead;
  if (lead.ownerId === link.personId) return { state: "yours", lead };
  const theirs =
    handOff?.id === link.handOffId && handOff.state !== "taken" && handOff.to.includes(link.personId);
  if (theirs && link.until > desk.clock.now()) return { state: "offered", lead, until: link.until };
  const { zone } = desk.setup.policies.desk;
  if (lead.closed)
    return { state: "over", lead, because: `It was closed: ${lead.closed.reason.toLowerCase()}.` };
  if (lead.ownerId)
    return { state: "over", lead, because: `${nameOf(desk.setup, lead.ownerId)} has it now.` };
  if (lead.refused.includes(link.personId))
    return {
      state: "over",
      lead,
      because: `You passed, or the time to take it ran out ${dayTime(link.until, zone, desk.clock.now())}. It went on to the next.`,
    };
  return { state: "over", lead, because: "It is no longer offered to you." };
}
