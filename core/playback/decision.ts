import type { LeadEvent } from "../lead/events.ts";
import type { Decision } from "../routing/route.ts";
import type { RecordedAct } from "./record.ts";
import type { Outcome } from "./tally.ts";

export interface MadeDecision {
  /** The event that says it; null when nothing had to be said, since the lead stayed where it was. */
  readonly event: LeadEvent | null;
  readonly outcome: Outcome;
}

/** The decision of the rules in an act, if it made one: what a ladder, a try or a person did is none. */
export function decisionIn({ events }: RecordedAct): MadeDecision | null {
  if (events.some((e) => e.kind === "stood-by" || e.kind === "tried")) return null;
  for (const event of events) {
    if (event.kind === "offered" && event.data.ruleId !== "by-hand") {
      const { to, ruleId = null, groupId = null } = event.data;
      return { event, outcome: { kind: "offer", to, ruleId, groupId, waitUntil: null } };
    }
    if (event.actor.kind !== "desk") continue;
    if (event.kind === "given" && event.data.standby)
      return {
        event,
        outcome: { kind: "standby", to: [event.data.to], ruleId: null, groupId: null, waitUntil: null },
      };
    if (event.kind === "listed")
      return {
        event,
        outcome: { kind: "list", to: [], ruleId: null, groupId: null, waitUntil: event.data.retryAt },
      };
  }
  return events.some((e) => e.kind === "inquiry") && events.some((e) => e.kind === "reopened")
    ? { event: null, outcome: { kind: "kept", to: [], ruleId: null, groupId: null, waitUntil: null } }
    : null;
}

export function outcomeOf(decision: Decision): Outcome {
  if (decision.kind === "offer") {
    const { to, rule } = decision;
    return {
      kind: "offer",
      to,
      ruleId: rule.id,
      groupId: "group" in rule.to ? rule.to.group : null,
      waitUntil: null,
    };
  }
  const to = decision.kind === "standby" ? [decision.to] : [];
  return {
    kind: decision.kind,
    to,
    ruleId: null,
    groupId: null,
    waitUntil: decision.kind === "list" ? decision.retryAt : null,
  };
}
