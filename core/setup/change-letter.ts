import { ROLES } from "../access/access.ts";
import type { LetterPolicy } from "../policy/letter.ts";
import { personOf, type Setup } from "../policy/setup.ts";
import { refuse } from "../refusal.ts";
import type { Changed } from "./change.ts";

/** Change the weekly letter of figures. Only people who may see figures get it, and only by mail. */
export function changeLetter(setup: Setup, letter: LetterPolicy): Changed {
  const wrong = (detail: string, field: string) =>
    refuse("letter-not-right", 422, "Not changed", detail, field);
  if (letter.on && letter.parts.length === 0)
    return wrong("Choose what it tells, one part at least.", "parts");
  if (new Set(letter.parts).size < letter.parts.length) return wrong("Choose each part once.", "parts");
  for (const [i, id] of letter.to.entries()) {
    const person = personOf(setup, id);
    if (!person || person.left) return wrong("Nobody here has that id.", `to.${i}`);
    if (!ROLES[person.role].includes("figures"))
      return wrong(`${person.name} may not see figures. Choose somebody who may.`, `to.${i}`);
    if (person.email === "")
      return wrong(`${person.name} has no mail address. Enter one under Set-up, People.`, `to.${i}`);
  }
  return { ok: true, setup: { ...setup, policies: { ...setup.policies, letter } } };
}
