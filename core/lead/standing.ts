import type { Lead } from "./lead.ts";

/** The part of a lead that a person's act can change and an undo puts back. */
export type Restorable = Pick<
  Lead,
  | "ownerId"
  | "creditId"
  | "handOff"
  | "turn"
  | "lastOwner"
  | "coversFor"
  | "refused"
  | "bell"
  | "others"
  | "ownedSince"
  | "lastTryAt"
  | "promise"
  | "parked"
  | "tries"
  | "reached"
  | "fruitless"
  | "nextStep"
  | "stage"
  | "closed"
  | "listed"
  | "replyWaiting"
  | "callBack"
  | "scheduled"
  | "booked"
  | "cadences"
  | "tasks"
  | "customer"
  | "handedOver"
  | "estimates"
  | "erasing"
>;

/** Cut the restorable part out of a lead. */
export function restorable(lead: Lead): Restorable {
  const { ownerId, handOff, refused, bell, tries, reached, nextStep, stage, closed, listed } = lead;
  const { replyWaiting, callBack, scheduled, booked, fruitless, creditId, turn, lastOwner, coversFor } = lead;
  const { others, ownedSince, lastTryAt, promise, parked, cadences, tasks, customer } = lead;
  const { handedOver, estimates, erasing } = lead;
  return {
    others,
    ownedSince,
    lastTryAt,
    promise,
    parked,
    cadences,
    tasks,
    customer,
    handedOver,
    estimates,
    erasing,
    creditId,
    turn,
    lastOwner,
    coversFor,
    ownerId,
    handOff,
    refused,
    bell,
    tries,
    reached,
    nextStep,
    stage,
    closed,
    listed,
    replyWaiting,
    callBack,
    scheduled,
    booked,
    fruitless,
  };
}

/** How a lead stands: what an act can change, and what it has been through besides. What parting gives back to each. */
export type Standing = Restorable &
  Pick<Lead, "stops" | "automatic" | "bounces" | "pinned" | "lastWay" | "woken">;

/** Cut out how a lead stands. */
export function standing(lead: Lead): Standing {
  const { stops, automatic, bounces, pinned, lastWay, woken } = lead;
  return { ...restorable(lead), stops, automatic, bounces, pinned, lastWay, woken };
}

/** What is known about who somebody is and what they want: what joining leads adds to, and parting puts back. */
export type Known = Pick<
  Lead,
  "name" | "emails" | "phones" | "company" | "tags" | "facts" | "inquiries" | "shared" | "related"
>;

/** Cut the known part out of a lead. */
export function known(lead: Lead): Known {
  const { name, emails, phones, company, tags, facts, inquiries, shared, related } = lead;
  return { name, emails, phones, company, tags, facts, inquiries, shared, related };
}
