import type { Lead } from "../lead/lead.ts";
import { personOf, type Setup } from "../policy/setup.ts";

/**
 * With whom a repeat inquiry stays before any rule is asked; null when the rules decide. An open lead is somebody's work
 * in hand. A closed one goes back to whoever had it when that is the policy. Somebody who left keeps nothing.
 */
export function staysWith(lead: Lead, wasClosed: boolean, setup: Setup): string | null {
  const owner = personOf(setup, lead.ownerId);
  if (!owner || owner.left) return null;
  return !wasClosed || setup.policies.setAside.keepOwner ? owner.id : null;
}
