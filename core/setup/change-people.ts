import { Temporal } from "temporal-polyfill";
import { toEmail } from "../contact/email.ts";
import { toE164 } from "../contact/phone.ts";
import type { Absence, Group, Person } from "../policy/people.ts";
import type { Setup } from "../policy/setup.ts";
import { type Refused, refuse } from "../refusal.ts";
import type { Hours } from "../time/calendar.ts";
import type { Changed } from "./change.ts";

const TIME = /^(([01]\d|2[0-3]):[0-5]\d|24:00)$/;

/** What is wrong with weekly hours; null when they can be used. */
export function hoursProblem(hours: Hours, path = "hours"): Refused | null {
  try {
    new Intl.DateTimeFormat("en", { timeZone: hours.zone });
  } catch {
    return refuse(
      "no-such-zone",
      422,
      "No such zone",
      `“${hours.zone}” is no time zone. Write it as America/Denver.`,
      `${path}.zone`,
    );
  }
  for (const [day, spans] of Object.entries(hours.week)) {
    if (!/^[1-7]$/.test(day))
      return refuse(
        "no-such-day",
        422,
        "No such day",
        "A week has seven days, 1 for Monday to 7 for Sunday.",
        `${path}.week`,
      );
    let last = "";
    for (const [i, [open, close]] of (spans ?? []).entries()) {
      const at = `${path}.week.${day}.${i}`;
      if (!TIME.test(open) || !TIME.test(close))
        return refuse("not-a-time", 422, "Not a time", "Write times as 08:30.", at);
      if (open >= close)
        return refuse(
          "the-wrong-way-round",
          422,
          "The wrong way round",
          `${open} must come before ${close}.`,
          at,
        );
      if (open < last)
        return refuse("they-overlap", 422, "They overlap", "Two stretches of one day overlap.", at);
      last = close;
    }
  }
  for (const [date, { spans }] of Object.entries(hours.exceptions ?? {})) {
    if (!isDate(date))
      return refuse(
        "not-a-date",
        422,
        "Not a date",
        "Write dates as 2026-03-04.",
        `${path}.exceptions.${date}`,
      );
    if (spans.some(([open, close]) => !TIME.test(open) || !TIME.test(close)))
      return refuse("not-a-time", 422, "Not a time", "Write times as 08:30.", `${path}.exceptions.${date}`);
  }
  return null;
}

/** Whether a text is a day of the calendar, in years a desk has to do with. */
function isDate(text: string): boolean {
  if (!/^(19|20)\d{2}-\d{2}-\d{2}$/.test(text)) return false;
  try {
    Temporal.PlainDate.from(text, { overflow: "reject" });
    return true;
  } catch {
    return false;
  }
}

function absenceProblem(
  setup: Setup,
  person: Person,
  { from, to, coverId }: Absence,
  path: string,
): Refused | null {
  if (!(from < to))
    return refuse(
      "the-wrong-way-round",
      422,
      "The wrong way round",
      "An absence must end after it begins.",
      `${path}.to`,
    );
  if (coverId === person.id)
    return refuse(
      "nobody-covers-for-themselves",
      422,
      "Nobody covers for themselves",
      "Choose somebody else.",
      `${path}.coverId`,
    );
  if (coverId && !setup.people.some((p) => p.id === coverId && !p.left))
    return refuse(
      "nobody-by-that-id",
      422,
      "Nobody by that id",
      "Choose somebody who works here.",
      `${path}.coverId`,
    );
  return null;
}

/** Save somebody under their id, new or known. */
export function savePerson(setup: Setup, person: Person): Changed {
  const name = person.name.trim();
  if (!name) return refuse("it-needs-a-name", 422, "It needs a name", "Say who it is.", "name");
  const email = toEmail(person.email);
  if (!email)
    return refuse(
      "not-a-mail-address",
      422,
      "Not a mail address",
      `“${person.email}” can’t be written to.`,
      "email",
    );
  const twin = setup.people.find((p) => p.id !== person.id && p.email === email);
  if (twin)
    return refuse(
      "the-address-is-taken",
      422,
      "The address is taken",
      `${twin.name} has ${email} already.`,
      "email",
    );
  const phone = person.phone.trim() ? toE164(person.phone, setup.policies.company.country) : "";
  if (phone === null)
    return refuse(
      "not-a-phone-number",
      422,
      "Not a phone number",
      `“${person.phone}” can’t be called.`,
      "phone",
    );
  for (const key of ["ceiling", "perDay"] as const) {
    const most = person[key];
    if (most != null && !(Number.isInteger(most) && most >= 0))
      return refuse("not-a-number", 422, "Not a number", "A ceiling is a whole number, or nothing.", key);
  }
  const wrong =
    hoursProblem(person.hours) ??
    person.absences.map((a, i) => absenceProblem(setup, person, a, `absences.${i}`)).find((p) => p) ??
    lastAdministrator(setup, person);
  if (wrong) return wrong;
  const absences = [...person.absences].sort((a, b) => a.from - b.from);
  const saved = { ...person, name, email, phone, absences };
  const known = setup.people.some((p) => p.id === person.id);
  const people = known ? setup.people.map((p) => (p.id === person.id ? saved : p)) : [...setup.people, saved];
  return { ok: true, setup: { ...setup, people } };
}

function lastAdministrator(setup: Setup, person: Person): Refused | null {
  if (person.role === "administrator" && !person.left) return null;
  const others = setup.people.filter((p) => p.id !== person.id && p.role === "administrator" && !p.left);
  return others.length > 0
    ? null
    : refuse(
        "the-last-administrator",
        409,
        "The last administrator",
        "Make somebody else administrator first, or nobody could.",
        "role",
      );
}

/** Put somebody into these groups and no others; where they are a member already their weight stays. */
export function inGroups(setup: Setup, personId: string, groupIds: readonly string[]): Changed {
  const unknown = groupIds.find((id) => !setup.groups.some((g) => g.id === id));
  if (unknown !== undefined)
    return refuse("no-such-group", 422, "No such group", `There is no group “${unknown}”.`, "groups");
  const groups = setup.groups.map((g) => {
    const isIn = g.members.some((m) => m.personId === personId);
    if (isIn === groupIds.includes(g.id)) return g;
    const members = isIn
      ? g.members.filter((m) => m.personId !== personId)
      : [...g.members, { personId, weight: 1 }];
    return { ...g, members };
  });
  return { ok: true, setup: { ...setup, groups } };
}

/** Somebody leaves: nothing is offered to them any more; what they did keeps their name. */
export function removePerson(setup: Setup, personId: string): Changed {
  const person = setup.people.find((p) => p.id === personId);
  if (!person || person.left)
    return refuse("nobody-by-that-id", 404, "Nobody by that id", "There is nobody with that id.");
  const { rules, standby } = setup.policies;
  const named = rules
    .filter((r) => "person" in r.to && r.to.person === personId)
    .map((r) => `the rule “${r.name}”`);
  if (standby.includes(personId)) named.push("the standby order");
  if (named.length > 0)
    return refuse(
      "still-needed",
      409,
      "Still needed",
      `${person.name} is named in ${named.join(" and ")}. Change that first.`,
    );
  const wrong = lastAdministrator(setup, { ...person, left: true });
  if (wrong) return wrong;
  const people = setup.people.map((p) => (p.id === personId ? { ...p, left: true as const } : p));
  const groups = setup.groups.map((g) => ({
    ...g,
    members: g.members.filter((m) => m.personId !== personId),
  }));
  return { ok: true, setup: { ...setup, people, groups } };
}

/** Save a group under its id, new or known. */
export function saveGroup(setup: Setup, group: Group): Changed {
  const name = group.name.trim();
  if (!name) return refuse("it-needs-a-name", 422, "It needs a name", "Give the group a name.", "name");
  if (setup.groups.some((g) => g.id !== group.id && g.name.toLowerCase() === name.toLowerCase()))
    return refuse(
      "the-name-is-taken",
      422,
      "The name is taken",
      `There is a group “${name}” already.`,
      "name",
    );
  for (const [i, { personId, weight }] of group.members.entries()) {
    if (!setup.people.some((p) => p.id === personId && !p.left))
      return refuse(
        "nobody-by-that-id",
        422,
        "Nobody by that id",
        "Choose somebody who works here.",
        `members.${i}`,
      );
    if (!(Number.isInteger(weight) && weight >= 0 && weight <= 100))
      return refuse(
        "not-a-weight",
        422,
        "Not a weight",
        "A weight is a whole number from 0 to 100.",
        `members.${i}.weight`,
      );
    if (group.members.findIndex((m) => m.personId === personId) !== i)
      return refuse(
        "twice-the-same",
        422,
        "Twice the same",
        "Somebody is in the group twice.",
        `members.${i}`,
      );
  }
  const saved = { ...group, name };
  const known = setup.groups.some((g) => g.id === group.id);
  const groups = known ? setup.groups.map((g) => (g.id === group.id ? saved : g)) : [...setup.groups, saved];
  return { ok: true, setup: { ...setup, groups } };
}

/** Remove a group no rule offers to. */
export function removeGroup(setup: Setup, groupId: string): Changed {
  const group = setup.groups.find((g) => g.id === groupId);
  if (!group) return refuse("no-such-group", 404, "No such group", "There is no group with that id.");
  const { rules, routing } = setup.policies;
  const used = [...rules, ...(routing.draft?.rules ?? [])].find(
    (r) => "group" in r.to && r.to.group === groupId,
  );
  if (used)
    return refuse(
      "it-is-in-use",
      409,
      "It is in use",
      `The rule “${used.name}” offers to ${group.name}. Change it first.`,
    );
  return { ok: true, setup: { ...setup, groups: setup.groups.filter((g) => g.id !== groupId) } };
}
