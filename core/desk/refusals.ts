import { type Refused, refuse } from "../refusal.ts";

/** Refusals that many use cases share, each said once. */

export const noSuchLead = (): Refused =>
  refuse("no-such-lead", 404, "No such lead", "There is no lead with that id.");

export const leadIsClosed = (): Refused =>
  refuse("the-lead-is-closed", 409, "The lead is closed", "Reopen it before working on it.");

/** `personId` of the call names nobody. */
export const nobodyByThatId = (): Refused =>
  refuse(
    "nobody-by-that-id",
    422,
    "Nobody by that id",
    "`personId` names nobody who works here.",
    "personId",
  );
