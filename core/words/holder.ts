import type { Lead } from "../lead/lead.ts";
import { nameOf, type Setup } from "../policy/setup.ts";

/** Who holds a lead and how that stands, for cards and lines of text. */
export function holder(setup: Setup, lead: Lead): string {
  if (lead.ownerId) return nameOf(setup, lead.ownerId);
  if (lead.handOff) return `offered to ${lead.handOff.to.map((id) => nameOf(setup, id)).join(", ")}`;
  return "nobody";
}
