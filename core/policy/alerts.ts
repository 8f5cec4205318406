import type { AlertAbout } from "../lead/events.ts";
import { nextOnDuty, type Person, presence } from "./people.ts";
import type { Setup } from "./policy.ts";

/** The ways somebody of ours can be told of something. */
export const ALERT_WAYS = ["chat", "text", "email", "browser"] as const;
export type AlertWay = (typeof ALERT_WAYS)[number];

/** By which ways, for each thing one can be told of. */
export type AlertMatrix = Readonly<Partial<Record<AlertAbout, readonly AlertWay[]>>>;

/** What one can be told of, in words, in the order the matrix shows it. */
export const ALERTS: Readonly<Record<AlertAbout, string>> = {
  "hand-off": "A lead is offered to me",
  given: "A lead was given to me",
  standby: "A lead comes to me on standby",
  nudge: "A lead of mine still waits for a call",
  ring: "A lead rang: nobody called in time",
  reply: "A lead of mine replied",
  "call-back": "They called and nobody answered",
  again: "A lead of mine inquired again",
  booked: "A lead of mine books, moves or calls off a call",
  mentioned: "I am named in a note",
  gone: "A lead of mine is with somebody else now",
  joined: "Two leads are one person",
  woke: "A parked lead came back",
  listed: "A lead is on the manager’s list",
  quiet: "A source has gone quiet",
};

/** A bell does not wait for office hours. */
export const URGENT: ReadonlySet<AlertAbout> = new Set(["hand-off", "standby", "nudge", "ring"]);

/** By which ways this person hears of something: their own choice, else the company's. */
export function waysFor(setup: Setup, person: Person, about: AlertAbout): readonly AlertWay[] {
  return person.alerts?.[about] ?? setup.policies.alerts[about] ?? [];
}

/**
 * When an alert may reach somebody: now while they are on duty, and always when it is urgent; else as their hours
 * begin again. Now also when nothing says when that will be.
 */
export function alertAt(person: Person, about: AlertAbout, now: number): number {
  if (URGENT.has(about) || presence(person, now).onDuty) return now;
  return nextOnDuty(person, now) ?? now;
}
