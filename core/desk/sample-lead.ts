import { understand } from "../intake/understand.ts";
import type { Lead } from "../lead/lead.ts";
import type { Setup } from "../policy/setup.ts";
import type { Source } from "../policy/source.ts";
import { MemoryDesk } from "./memory.ts";
import { receive } from "./receive.ts";

/** Somebody made up, to show messages by where no lead is chosen. The name is nobody's, the number is fictional. */
const SOMEBODY = {
  name: "Robin Sample",
  email: "robin@example.com",
  phone: "303 555 0199",
  postal_code: "80202",
  message: "Would it fit on a deck of three by four metres?",
};

/** A lead as an inquiry by this source would make it now, without anything else having happened. */
export function sampleLead(setup: Setup, source: Source, now: number): Lead {
  const product = setup.policies.products[0]?.key;
  const understood = understand(
    { ...source, mapping: { ...source.mapping, fields: {}, joins: [] } },
    setup.policies,
    {
      ...SOMEBODY,
      ...(product && { product }),
    },
  );
  if (!understood.ok) throw new Error(understood.reason);
  const decided = receive(new MemoryDesk(setup, now).look(null), {
    inquiryId: "sample",
    source,
    facts: understood.facts,
    matchedOn: null,
    by: { kind: "lead" },
    goesTo: { kind: "kept" },
  });
  if (!decided.ok) throw new Error(decided.problem.detail);
  return decided.plan.after;
}
