import { ROLES } from "../../core/access/access.ts";
import { readersOf } from "../../core/policy/letter.ts";
import type { Person } from "../../core/policy/people.ts";
import type { Desk } from "../../server/desk.ts";
import type { Letter } from "../wire/figure-schemas.ts";

const named = ({ id, name }: Person) => ({ id, name });

/** The weekly letter as it is set up, and who gets it. */
export function toLetter({ setup, letters }: Desk): Letter {
  const { on, weekday, time, to, parts } = setup.policies.letter;
  const due = letters.nextDue;
  return {
    on,
    weekday,
    time,
    to: [...to],
    parts: [...parts],
    nextAt: on && Number.isFinite(due) ? new Date(due).toISOString() : null,
    readers: readersOf(setup.policies.letter, setup.people).map(named),
    mayGet: setup.people
      .filter((p) => !p.left && p.email !== "" && ROLES[p.role].includes("figures"))
      .map(named),
  };
}
