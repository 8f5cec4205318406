import { openSpans, type Span, tidy, without } from "../time/spans.ts";
import { calendarAround, type Group, type Person } from "./people.ts";
import { personOf, type Setup } from "./setup.ts";

/** When somebody is on duty by hours and absences: what was switched by hand is only known of now. */
export function dutySpans(person: Person, from: number, to: number): Span[] {
  if (person.left) return [];
  return without(openSpans(calendarAround(person.hours, from), from, to), person.absences);
}

/** Desk hours at which nobody of a group is on duty; the whole desk's salespeople when no group is named. */
export function holes(setup: Setup, group: Group | null, from: number, to: number): Span[] {
  const members = group
    ? group.members.flatMap((m) => personOf(setup, m.personId) ?? [])
    : setup.people.filter((p) => p.role === "salesperson");
  const desk = openSpans(calendarAround(setup.policies.desk, from), from, to);
  return without(desk, tidy(members.flatMap((p) => dutySpans(p, from, to))));
}
