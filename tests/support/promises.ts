import { expect } from "vitest";
import type { LeadEvent } from "../../core/lead/events.ts";
import type { Received } from "../../standins/outside.ts";

/** What a desk promises of whatever happened on it, for tests that look back. */

/**
 * Between one bell's start and the next, each rung happens once at most, the bell rings once, and rungs come in the
 * order of their times; the same for every other bell by its reason.
 */
export function rungsOnce(events: readonly LeadEvent[]): void {
  const seen = new Map<string, Set<string>>();
  const climb = (bell: string, rung: string, at: number) => {
    const climbed = seen.get(bell) ?? new Set();
    expect(climbed.has(rung), `${rung} twice for the bell of ${bell}, at ${at}`).toBe(false);
    seen.set(bell, climbed.add(rung));
  };
  const inquiry = { nudged: "nudge", rang: "ring", "stood-by": "standby" } as const;
  for (const event of events) {
    // A lead that is joined may bring its own bell along, with the rungs it has not climbed.
    if (event.kind === "bell-started" || event.kind === "joined") seen.delete("inquiry");
    if (event.kind === "watched") for (const { kind } of event.data.bells) seen.delete(kind);
    if (event.kind === "undone") seen.clear();
    if (event.kind in inquiry) climb("inquiry", inquiry[event.kind as keyof typeof inquiry], event.at);
    if (event.kind === "climbed") climb(event.data.bell, event.data.act, event.at);
  }
}

/** How many things people were told by messages that arrived: many alerts for one person go as one, which says how many it tells of. */
export const thingsTold = (received: readonly Received[]): number =>
  received.reduce((sum, { body }) => sum + Number(/^\*?(\d+) things for you/.exec(body)?.[1] ?? 1), 0);
