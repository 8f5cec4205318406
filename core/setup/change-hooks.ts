import { conditionProblem } from "../condition/condition.ts";
import { fieldFinder } from "../lead/fields.ts";
import { jsonBy } from "../message/template.ts";
import { HOOK_EVENTS, type Hook, type HookSends } from "../policy/hooks.ts";
import type { Setup } from "../policy/setup.ts";
import type { Refused } from "../refusal.ts";
import { listColumns } from "../words/columns.ts";
import type { Changed } from "./change.ts";
import { put, wrong } from "./change-company.ts";

/** Change which other systems are told. An address is a web address; where it may lead is asked as it is used. */
export function changeHooks(setup: Setup, hooks: readonly Hook[]): Changed {
  for (const [i, { name, url, events, when, sends }] of hooks.entries()) {
    const path = `hooks.${i}`;
    if (!name.trim())
      return wrong("it-needs-a-name", "It needs a name", "Give the other system a name.", `${path}.name`);
    if (!URL.canParse(url) || !/^https?:$/.test(new URL(url).protocol))
      return wrong(
        "not-an-address",
        "Not an address",
        `“${url}” is no web address. It begins with https://.`,
        `${path}.url`,
      );
    const odd = events.find((e) => !Object.hasOwn(HOOK_EVENTS, e));
    if (odd) return wrong("no-such-event", "No such event", `There is no event “${odd}”.`, `${path}.events`);
    const condition = conditionProblem(when ?? null, fieldFinder(setup), `${path}.when`);
    if (condition) return wrong("condition-cant-be-used", "Not changed", condition.message, condition.path);
    const sent = sends && sendsProblem(setup, sends, `${path}.sends`);
    if (sent) return sent;
  }
  return put(setup, { hooks: hooks.map((h) => ({ ...h, name: h.name.trim() })) });
}

/** What a template is tried on: every part there is, empty. */
const NOTHING = {
  type: "lead.stage",
  timestamp: "2026-01-01T00:00:00Z",
  data: { event: null, lead: null, company: null, contact: null, deal: null },
};

function sendsProblem(setup: Setup, sends: HookSends, path: string): Refused | null {
  if (sends.kind === "fields") {
    const known = new Set(listColumns(setup).map((c) => c.key));
    const odd = sends.fields.findIndex((field) => !known.has(field));
    if (sends.fields.length === 0)
      return wrong("it-needs-a-field", "It needs a field", "Choose one field at least.", `${path}.fields`);
    return odd < 0
      ? null
      : wrong(
          "no-such-field",
          "No such field",
          `There is no field “${sends.fields[odd]}”.`,
          `${path}.fields.${odd}`,
        );
  }
  const tried = sends.kind === "template" ? jsonBy(sends.template, NOTHING) : null;
  return tried && !tried.ok
    ? wrong(
        "not-json",
        "Not JSON",
        `${tried.why} Write texts as {{ data.lead.name | json }}, which puts the quotes itself.`,
        `${path}.template`,
      )
    : null;
}
