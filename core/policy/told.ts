import { type AlertAbout, type AlertWay, MESSAGE_WAYS, type MessageWay } from "../vocabulary.ts";
import { URGENT } from "./alerts.ts";
import { nextOnDuty, type Person, presence } from "./people.ts";
import type { Setup } from "./setup.ts";

/** By which ways this person hears of something: their own choice, else the company's. */
export function waysFor(setup: Setup, person: Person, about: AlertAbout): readonly AlertWay[] {
  return person.alerts?.[about] ?? setup.policies.alerts[about] ?? [];
}

/** Where somebody is reached by a way; empty when they are not. */
export const reachedAt = ({ chat, phone, email }: Person, way: MessageWay): string =>
  ({ chat, text: phone, email })[way];

const NONE: ReadonlySet<MessageWay> = new Set();

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

const WAY_NAMES: Readonly<Record<MessageWay, string>> = { chat: "team chat", text: "texts", email: "mail" };

/**
 * Why somebody would not hear of an offer, in words; null when they would. Where no way out is set up at all, the Desk in
 * the browser is how everybody hears: a house begins so.
 */
export function whyUntold(
  setup: Setup,
  person: Person,
  unset: ReadonlySet<MessageWay> = NONE,
): string | null {
  if (MESSAGE_WAYS.every((way) => unset.has(way))) return null;
  if (messagesFor(setup, person, "hand-off", unset).length > 0) return null;
  const has = MESSAGE_WAYS.filter((way) => reachedAt(person, way) !== "");
  return has.length === 0
    ? "can’t be told: no phone, mail address or chat name"
    : `can’t be told: ${has.map((way) => WAY_NAMES[way]).join(" and ")} not set up`;
}

/**
 * When an alert may reach somebody: now while they are on duty, and always when it is urgent; else as their hours
 * begin again. Now also when nothing says when that will be.
 */
export function alertAt(person: Person, about: AlertAbout, now: number): number {
  if (URGENT.has(about) || presence(person, now).onDuty) return now;
  return nextOnDuty(person, now) ?? now;
}
