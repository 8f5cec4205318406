import type { Right } from "../../core/access/access.ts";
import type { Person } from "../../core/policy/people.ts";
import { personOf } from "../../core/policy/setup.ts";
import type { Desk } from "../../server/desk.ts";

/** Whose rounds are asked for: one’s own, or somebody’s where one sees everybody’s leads. Null when one may not. */
export function personAsked(
  desk: Desk,
  me: Person,
  rights: ReadonlySet<Right>,
  asked: string | null | undefined,
): Person | null {
  if (!asked || asked === me.id) return me;
  return rights.has("leads.all") ? (personOf(desk.setup, asked) ?? null) : null;
}
