import type { Engaged } from "../lead/lead.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { noSuchLead } from "./refusals.ts";

const MINUTE = 60_000;
/** How long each counts without another word of it (ms): a call that rings, that is talked, whose outcome is chosen. */
export const COUNTS_FOR = {
  ringing: 5 * MINUTE,
  talking: 60 * MINUTE,
  outcome: 10 * MINUTE,
  writing: 3 * MINUTE,
} as const;
/** However long somebody writes, it counts no longer than this (ms). */
const LONGEST_WRITING = 15 * MINUTE;
/** A count that runs on so long is not renewed at each letter typed (ms). */
const RENEWED_FROM = MINUTE;

/**
 * Somebody of ours talks to the lead, or writes to it by hand: until it ends, or for as long as is said, nobody is nudged,
 * nothing rings and nothing goes on to the next. A call outranks writing; of two who do the same the first counts.
 */
export function engage(world: World, personId: string, what: keyof typeof COUNTS_FOR): Decided {
  const { lead, now } = world;
  if (!lead) return noSuchLead();
  const draft = new Draft(world, { kind: "person", id: personId });
  const how: Engaged["how"] = what === "writing" ? "writing" : "call";
  const running = lead.engaged && lead.engaged.until > now ? lead.engaged : null;
  if (lead.closed || (running && running.personId !== personId && (running.how === how || how === "writing")))
    return draft.done();
  let until = now + COUNTS_FOR[what];
  if (how === "writing") {
    if (running?.how === "call" || (running && running.until - now > RENEWED_FROM)) return draft.done();
    until = Math.min(until, (running?.since ?? now) + LONGEST_WRITING);
    if (until <= now) return draft.done();
  }
  return draft.add("engaged", { personId, how, until }).done();
}

/** They no longer talk or write to them: what was due meanwhile happens now. */
export function letBe(world: World, personId: string): Decided {
  if (!world.lead) return noSuchLead();
  const draft = new Draft(world, { kind: "person", id: personId });
  if (world.lead.engaged?.personId === personId) draft.add("let-be", { personId });
  return draft.done();
}
