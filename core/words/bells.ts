import { nameOrNumber } from "../lead/called.ts";
import type { Lead } from "../lead/lead.ts";
import type { BellKind, RungAct } from "../policy/bells.ts";
import { nameOf, type Setup } from "../policy/setup.ts";
import { dateTime, duration } from "../time/words.ts";
import { holder } from "./holder.ts";

/** What each bell watches over, as the editor names it. */
export const BELLS: Readonly<Record<BellKind, { readonly name: string; readonly said: string }>> = {
  inquiry: { name: "A new inquiry", said: "from its arrival to the first try" },
  untried: { name: "Owned, not tried", said: "from when somebody has it to their first try" },
  reply: { name: "Reply or call back waiting", said: "from when they wrote or called to an answer" },
  overdue: { name: "Next step overdue", said: "from the time of the next step until it is done" },
  promise: { name: "A promise to the lead", said: "from the time that was promised" },
  stalled: { name: "Tries have stopped", said: "from the last try, before anybody was reached" },
  aimless: { name: "No next step", said: "from when nothing was planned any more" },
};

/** What each rung does, in words. */
export const RUNGS: Readonly<Record<RungAct, string>> = {
  nudge: "Nudged",
  ring: "Rang",
  manager: "Told the managers",
  next: "Offered to the next",
  group: "Offered to a group",
  standby: "Given to standby",
  tag: "Tagged",
  list: "Put on the manager’s list",
  park: "Parked",
};

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
/** How late something is that was due, in words. */
export const lateBy = (ms: number) => `late by ${duration(ms)}: the desk was off`;
