import type { AlertAbout, AlertWay } from "../vocabulary.ts";

/** By which ways, for each thing one can be told of. */
export type AlertMatrix = Readonly<Partial<Record<AlertAbout, readonly AlertWay[]>>>;

/** What an alert can be about, that is about a lead. */
export type AboutLead = Exclude<AlertAbout, "quiet" | "list">;

/** The first line of alerts, as Liquid with merge fields. */
export type AlertWords = Readonly<Partial<Record<AboutLead, string>>>;

/** What one can be told of, in words, in the order the matrix shows it. */
export const ALERTS: Readonly<Record<AlertAbout, string>> = {
  "hand-off": "A lead is offered to me",
  given: "A lead was given to me",
  standby: "A lead comes to me on standby",
  nudge: "A lead of mine still waits for a call",
  ring: "A lead rang: nobody called in time",
  reply: "A lead of mine replied",
  "call-back": "They called and nobody answered",
  undelivered: "A message to a lead of mine did not arrive",
  again: "A lead of mine inquired again",
  booked: "A lead of mine books, moves or calls off a call",
  mentioned: "I am named in a note",
  gone: "A lead of mine is with somebody else now",
  planned: "A cadence asks me to do or to know something",
  joined: "Two leads are one person",
  woke: "A parked lead came back",
  listed: "A lead is on the manager’s list",
  quiet: "A source has gone quiet",
  list: "A list I watch has something new",
};

/** A bell does not wait for office hours. */
export const URGENT: ReadonlySet<AlertAbout> = new Set(["hand-off", "standby", "nudge", "ring"]);
