import type { Lead } from "../../../core/lead/lead.ts";
import type { TakeLink } from "../../../core/message/outgoing.ts";
import { nameOf, personOf } from "../../../core/policy/setup.ts";
import { dayTime, zoneName } from "../../../core/time/words.ts";
import type { Desk } from "../../../server/desk.ts";

/** How a take link stands when it is opened. */
export type LinkStands =
  | { readonly state: "offered"; readonly lead: Lead; readonly until: number }
  | { readonly state: "yours"; readonly lead: Lead }
  /** It has served its time, and shows nothing of the lead any more. */
  | { readonly state: "over"; readonly because: string; readonly mine: string | null }
  | { readonly state: "unknown" };

/** Whoever has taken a lead finds it by the link they took it by for so long (ms); then they sign in for it. */
const SHOWN_FOR = 86_400_000;

/**
 * A link works for its one offer, its person and its time. What it says afterwards is what became of it, and nothing of
 * the lead: links lie in mailboxes and phones long after they are of use.
 */
export function standsNow(desk: Desk, link: TakeLink | null): LinkStands {
  const lead = link && desk.look(link.leadId).lead;
  const person = link && personOf(desk.setup, link.personId);
  if (!link || !lead || !person || person.left) return { state: "unknown" };
  const { handOff } = lead;
  const over = (because: string, mine: string | null = null): LinkStands => ({
    state: "over",
    because,
    mine,
  });
  if (lead.ownerId === link.personId)
    return desk.clock.now() < link.until + SHOWN_FOR
      ? { state: "yours", lead }
      : over("You have this lead. Open it on the desk.", lead.id);
  const theirs =
    handOff?.id === link.handOffId && handOff.state !== "taken" && handOff.to.includes(link.personId);
  if (theirs && link.until > desk.clock.now()) return { state: "offered", lead, until: link.until };
  const { zone } = desk.setup.policies.desk;
  if (lead.closed) return over(`It was closed: ${lead.closed.reason.toLowerCase()}.`);
  if (lead.ownerId) return over(`${nameOf(desk.setup, lead.ownerId)} has it now.`);
  if (lead.refused.includes(link.personId))
    return over(
      `You passed, or the time to take it ran out ${dayTime(link.until, zone, desk.clock.now())} ${zoneName(link.until, zone)}. It went on to the next.`,
    );
  return over("It is no longer offered to you.");
}
