import { guessFact } from "../../core/policy/field-names.ts";
import type { FactKey, Mapping } from "../../core/policy/mapping.ts";
import type { Person } from "../../core/policy/people.ts";
import type { Source } from "../../core/policy/source.ts";
import type { Desk } from "../desk.ts";
import type { Receipt } from "../intake/intake.ts";

/**
 * Send a sample through the real path: stored, understood by this mapping, matched, answered, routed. Its phone and
 * mail address are replaced by those of whoever tests, so that no customer hears of it and the replies can be seen. It is
 * offered to whoever tests alone, unless it is to go `byRules`.
 */
export function testRun(
  desk: Desk,
  source: Source,
  sample: Readonly<Record<string, string>>,
  mapping: Mapping | undefined,
  me: Person,
  byRules: boolean,
): Promise<Receipt> {
  const tried: Source = mapping
    ? { ...source, mapping: { ...mapping, version: source.mapping.version } }
    : source;
  const fields = ownContacts(tried.mapping, sample, me);
  const raw = Buffer.from(JSON.stringify(fields));
  const delivery = { contentType: "application/json", headers: { "user-agent": "a test from Set-up" }, raw };
  return desk.intake.submit(tried, delivery, {
    test: { only: byRules ? null : me.id },
    dedupe: `test:${desk.newId("try")}`,
  });
}

function ownContacts(
  mapping: Mapping,
  sample: Readonly<Record<string, string>>,
  me: Person,
): Record<string, string> {
  const fields: Record<string, string> = { ...sample };
  const becomes = (name: string): FactKey | "answer" | null => mapping.fields[name]?.to ?? guessFact(name);
  const done = new Set<string>();
  for (const name of Object.keys(fields)) {
    const to = becomes(name);
    if (to !== "phone" && to !== "email") continue;
    // The first of each kind is the tester's; further ones would be strangers'.
    if (done.has(to)) delete fields[name];
    else fields[name] = to === "phone" ? me.phone : me.email;
    done.add(to);
  }
  return fields;
}
