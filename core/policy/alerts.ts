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

/** The ways by which a message leaves the house. A browser shows something only while somebody has it open. */
export const MESSAGE_WAYS = ["chat", "text", "email"] as const;
export type MessageWay = (typeof MESSAGE_WAYS)[number];

/** Where somebody is reached by a way; empty when they are not. */
export const reachedAt = ({ chat, phone, email }: Person, way: MessageWay): string =>
  ({ chat, text: phone, email })[way];

/**
 * By which messages somebody hears of something: as they have chosen, as far as those ways work; of what cannot wait, by
 * any that works where none of the chosen does. `unset` are ways out the house has not set up.
 */
export function messagesFor(
  setup: Setup,
  person: Person,
  about: AlertAbout,
  unset: ReadonlySet<MessageWay> = NONE,
): readonly MessageWay[] {
  const works = MESSAGE_WAYS.filter((way) => reachedAt(person, way) !== "" && !unset.has(way));
  const chosen = waysFor(setup, person, about);
  const wanted = works.filter((way) => chosen.includes(way));
  return wanted.length > 0 || !URGENT.has(about) ? wanted : works;
}
const NONE: ReadonlySet<MessageWay> = new Set();

/** Why somebody would not hear of an offer, in words; null when they would. */
export function whyUntold(setup: Setup, person: Person, unset?: ReadonlySet<MessageWay>): string | null {
  if (messagesFor(setup, person, "hand-off", unset).length > 0) return null;
  const has = MESSAGE_WAYS.filter((way) => reachedAt(person, way) !== "");
  return has.length === 0
    ? "can’t be told: no phone, mail address or chat name"
    : `can’t be told: ${has.map((way) => WAY_NAMES[way]).join(" and ")} not set up`;
}
const WAY_NAMES: Readonly<Record<MessageWay, string>> = { chat: "team chat", text: "texts", email: "mail" };

/**
 * When an alert may reach somebody: now while they are on duty, and always when it is urgent; else as their hours
 * begin again. Now also when nothing says when that will be.
 */
export function alertAt(person: Person, about: AlertAbout, now: number): number {
  if (URGENT.has(about) || presence(person, now).onDuty) return now;
  return nextOnDuty(person, now) ?? now;
}
