import { nameOrNumber } from "../lead/called.ts";
import type { Lead } from "../lead/lead.ts";
import type { BellKind } from "../policy/bells.ts";
import { nameOf, type Setup } from "../policy/setup.ts";
import { dateTime } from "../time/words.ts";
import { holder } from "./holder.ts";

/** What a bell has to say about a lead, as the heading of an alert. */
export function bellHeading(kind: BellKind, lead: Lead, setup: Setup, now: number): string {
  return kind === "inquiry" && lead.bell?.state === "rung"
    ? `nobody has called ${nameOrNumber(lead)}. With: ${holder(setup, lead)}`
    : `${nameOrNumber(lead)} ${bellWords(kind, lead, setup, now)}`;
}

/** The same without the name, for where the lead is named beside it. */
export function bellWords(kind: BellKind, lead: Lead, setup: Setup, now: number): string {
  const zone = setup.policies.desk.zone;
  const whose = lead.ownerId ? nameOf(setup, lead.ownerId) : "nobody";
  const when = (at: number | null | undefined) => (at ? dateTime(at, zone, now) : "");
  switch (kind) {
    case "inquiry":
      return lead.bell?.state === "rung"
        ? `waits for a first call, ${lead.ownerId ? `with ${whose}` : lead.handOff ? holder(setup, lead) : "with nobody"}`
        : "still waits for a call";
    case "untried":
      return `is with ${whose} since ${when(lead.ownedSince)}, and nobody has tried`;
    case "reply":
      return `waits for an answer since ${when(lead.replyWaiting ?? lead.callBack)}`;
    case "overdue":
      return `has a step overdue since ${when(lead.nextStep?.dueAt)}: ${lead.nextStep?.note ?? "call"}`;
    case "promise":
      return `was promised for ${when(lead.promise?.at)}: ${lead.promise?.text ?? "a call"}`;
    case "stalled":
      return `was last tried ${when(lead.lastTryAt)} and never reached`;
    case "aimless":
      return "has no next step";
  }
}

/** The point of a short text about a bell. */
export function bellPoint(kind: BellKind): string {
  return {
    inquiry: "Still waits for a call",
    untried: "Yours, and not tried yet",
    reply: "Waits for your answer",
    overdue: "Next step overdue",
    promise: "Promised for now",
    stalled: "Not tried for long",
    aimless: "No next step",
  }[kind];
}
