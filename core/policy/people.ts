import type { Calendar, Hours } from "../time/calendar.ts";
import { compileCalendar, isOpen, nextOpening } from "../time/calendar.ts";
import { timeBeside } from "../time/words.ts";
import type { AlertMatrix } from "./alerts.ts";

export type Role = "coordinator" | "salesperson" | "manager" | "administrator";

/** A stretch in which somebody is not there, and who stands in. Epoch ms, end exclusive. */
export interface Absence {
  readonly from: number;
  readonly to: number;
  readonly reason: string;
  readonly coverId: string | null;
  /** What waits on them goes to whoever covers, or stays. Goes when left out. */
  readonly waiting?: "goes" | "stays";
  /** What went to cover comes back afterwards, or stays there. Comes back when left out. */
  readonly after?: "back" | "stays";
}

/** Somebody who works at the desk or sells. What is null is unrestricted. */
export interface Person {
  readonly id: string;
  readonly name: string;
  readonly role: Role;
  readonly email: string;
  readonly phone: string;
  readonly chat: string;
  readonly hours: Hours;
  readonly absences: readonly Absence[];
  /** Switched off by hand, whatever the hours say; {@link isOff} knows whether that still holds. */
  readonly offDuty: boolean;
  /** When being off duty ends on its own (epoch ms); when they say so, where left out. */
  readonly offUntil?: number | null;
  readonly products: readonly string[] | null;
  readonly languages: readonly string[];
  readonly territories: readonly string[] | null;
  /** How they want to hear of things, where it differs from the company's way. */
  readonly alerts?: AlertMatrix;
  /** How many open leads they may hold at most; null for no ceiling. */
  readonly ceiling: number | null;
  /** How many leads they may get in one day of the desk at most. */
  readonly perDay?: number | null;
  /** Who sees to what waits on them while they are off duty by hand; nobody when left out. */
  readonly cover?: string | null;
  /** They no longer work here: nothing is offered to them, and what they did keeps their name. */
  readonly left?: true;
}

/** How a group chooses whom to offer a lead. */
export type GroupWay = "rotation" | "weighted" | "fewest-open" | "best-match" | "open-call";

export const GROUP_WAYS: Readonly<Record<GroupWay, string>> = {
  rotation: "strict rotation",
  weighted: "weighted rotation",
  "fewest-open": "fewest open leads",
  "best-match": "best match of skills",
  "open-call": "open call",
};

export interface Group {
  readonly id: string;
  readonly name: string;
  readonly way: GroupWay;
  readonly members: readonly { readonly personId: string; readonly weight: number }[];
}

const DAY = 86_400_000;
const compiled = new WeakMap<Hours, Calendar>();

/**
 * The hours as a calendar around `now`: at least a month back and a year ahead. Remembered per hours object,
 * and compiled again when `now` has moved on; the answer depends on its arguments alone.
 */
export function calendarAround(hours: Hours, now: number): Calendar {
  const known = compiled.get(hours);
  if (known && now - 31 * DAY >= known.from && now + 370 * DAY <= known.to) return known;
  const fresh = compileCalendar(hours, now - 62 * DAY, now + 430 * DAY);
  compiled.set(hours, fresh);
  return fresh;
}

/** Whether somebody is off duty by hand at a time. */
export function isOff({ offDuty, offUntil = null }: Person, now: number): boolean {
  return offDuty && (offUntil === null || now < offUntil);
}

export type Presence = { readonly onDuty: true } | { readonly onDuty: false; readonly because: string };

/** Whether somebody is on duty now, and if not, why not in words. */
export function presence(person: Person, now: number): Presence {
  if (person.left) return { onDuty: false, because: "no longer works here" };
  if (isOff(person, now)) {
    const { offUntil, hours } = person;
    const until = offUntil ? ` until ${timeBeside(offUntil, hours.zone, now)}` : "";
    return { onDuty: false, because: `went off duty${until}` };
  }
  const absence = person.absences.find((a) => a.from <= now && now < a.to);
  if (absence) return { onDuty: false, because: `away: ${absence.reason}` };
  if (!isOpen(calendarAround(person.hours, now), now))
    return { onDuty: false, because: "outside their working hours" };
  return { onDuty: true };
}

/** When somebody is next on duty by hours and absences; null when nothing says they will be. */
export function nextOnDuty(person: Person, now: number): number | null {
  if (person.left || (isOff(person, now) && !person.offUntil)) return null;
  const calendar = calendarAround(person.hours, now);
  let at: number | null = isOff(person, now) ? person.offUntil! : now;
  for (let i = 0; at !== null && i < 50; i++) {
    at = nextOpening(calendar, at);
    const absence = at === null ? undefined : person.absences.find((a) => a.from <= at! && at! < a.to);
    if (!absence) return at;
    at = Math.min(absence.to, calendar.to);
    if (at === calendar.to) return null;
  }
  return at;
}

/**
 * When what is lent to cover comes back to somebody who is away or off duty; null while they are there, when it stays with
 * whoever covers, and when nothing says they will be back.
 */
export function backAt(person: Person, now: number): number | null {
  const absence = person.absences.find((a) => a.from <= now && now < a.to);
  if (absence ? absence.after === "stays" : !isOff(person, now)) return null;
  return nextOnDuty(person, now);
}

/** What to call each where somebody is chosen: namesakes are told apart by their mail address. */
export function namesApart(
  people: readonly Pick<Person, "id" | "name" | "email">[],
): ReadonlyMap<string, string> {
  const plain = (name: string) => name.trim().toLowerCase();
  const many = new Map<string, number>();
  for (const { name } of people) many.set(plain(name), (many.get(plain(name)) ?? 0) + 1);
  return new Map(
    people.map(({ id, name, email }) => [
      id,
      (many.get(plain(name)) ?? 0) > 1 ? `${name.trim()} (${email || id})` : name,
    ]),
  );
}
