import type { Bell, Lead, OtherBell } from "./lead.ts";

/** Whether a bell still climbs its ladder. */
export const isRunning = (bell: Bell | OtherBell | null): bell is Bell | OtherBell =>
  bell !== null && (bell.state === "waiting" || bell.state === "rung");

/** The bells of a lead that run. */
export function bellsOf(lead: Lead): readonly (Bell | OtherBell)[] {
  return [lead.bell, ...lead.others].filter(isRunning);
}

/** What tells a lead's bells apart in the names of their timers. */
export const bellKey = (bell: Bell | OtherBell) =>
  "kind" in bell ? `${bell.kind}.${bell.since}` : `${bell.n}`;
