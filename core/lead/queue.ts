import type { Lead } from "./lead.ts";

/** The bands of the queue and the rounds, in the order they are worked. */
export const BANDS = ["answer", "rung", "again", "today", "later"] as const;
export type Band = (typeof BANDS)[number];

/** Places of leads that somebody works on. Named where the database is asked: those that are done with are most of a desk of years. */
export const OPEN_PLACES = ["answer", "rung", "again", "step", "idle"] as const;

/**
 * Where a lead stands in the desk's day, without a clock: a place to sort by and a time in it. `step` leads
 * fall into *Try again*, *Due today* or *Later* by comparing `at` with the end of the day.
 */
export interface Place {
  readonly place: (typeof OPEN_PLACES)[number] | "parked" | "customer" | "closed";
  /** What is sorted by, earliest first (epoch ms). */
  readonly at: number;
}

/** How far call-backs are sorted before everything else in *Answer now* (ms): a year. */
const CALL_BACK_FIRST = 365 * 86_400_000;
/** How far what rings for another reason is sorted after inquiries nobody has called (ms). */
const INQUIRIES_FIRST = 365 * 86_400_000;

/** The place of a lead: call-backs, then replies and unanswered inquiries before rung ones, before planned tries and steps. */
export function placeOf(lead: Lead): Place {
  if (lead.closed) return { place: "closed", at: lead.closed.at };
  // Somebody who called waits with the phone in hand: before everybody else, the longest waiting first.
  if (lead.callBack !== null) return { place: "answer", at: lead.callBack - CALL_BACK_FIRST };
  if (lead.replyWaiting !== null && lead.bell?.state !== "rung")
    return { place: "answer", at: lead.replyWaiting };
  if (lead.bell?.state === "waiting")
    // Who asked to be called at a time is not called before it.
    return { place: lead.bell.askedFor ? "step" : "answer", at: lead.bell.dueAt };
  if (lead.bell?.state === "rung") return { place: "rung", at: lead.bell.dueAt };
  const rung = lead.others.find((b) => b.state === "rung");
  if (rung) return { place: "rung", at: rung.dueAt + INQUIRIES_FIRST };
  if (lead.listed) return { place: "rung", at: lead.listed.at };
  if (lead.parked) return { place: "parked", at: lead.parked.lookAt ?? Number.MAX_SAFE_INTEGER };
  // Whoever bought is due when a step of theirs is, and no open lead between.
  if (lead.nextStep) return { place: lead.reached ? "step" : "again", at: lead.nextStep.dueAt };
  return { place: lead.customer ? "customer" : "idle", at: lead.lastActivityAt };
}

/** Since when a lead has been in the band *rung* (epoch ms): its bell, another of its bells, or the manager's list. Null when it is not. */
export function rungSince(lead: Lead): number | null {
  if (lead.bell?.state === "rung") return lead.bell.dueAt;
  return lead.others.find((b) => b.state === "rung")?.dueAt ?? lead.listed?.at ?? null;
}

/** The band a place falls into on a day that ends at `dayEnd` (epoch ms, exclusive). */
export function bandOf(place: Place, dayEnd: number): Band | null {
  switch (place.place) {
    case "closed":
    case "parked":
    case "customer":
      return null;
    case "answer":
    case "rung":
      return place.place;
    case "idle":
      return "later";
    default:
      if (place.at >= dayEnd) return "later";
      return place.place === "again" ? "again" : "today";
  }
}
