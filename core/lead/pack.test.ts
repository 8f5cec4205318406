import fc from "fast-check";
import { expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { MemoryDesk } from "../desk/memory.ts";
import { receive } from "../desk/receive.ts";
import { logTry } from "../desk/work.ts";
import { understand } from "../intake/understand.ts";
import { packLead, unpackLead } from "./pack.ts";

it("a lead that was packed is the same lead, and says less", () => {
  const text = fc.constantFrom("", "Ana Ruiz", "80302", "barrel", "price", "ana@example.com");
  const fields = fc.record({
    name: text,
    email: text,
    product: text,
    postal_code: text,
    holding_back: text,
    message: text,
  });
  fc.assert(
    fc.property(fields, fc.boolean(), (said, tried) => {
      const desk = new MemoryDesk(tarnholt, Date.parse("2026-03-04T16:00:00Z"));
      const source = tarnholt.sources[0]!;
      const understood = understand(source, tarnholt.policies, { ...said, phone: "303 555 0100" });
      if (!understood.ok) throw new Error(understood.reason);
      const by = { kind: "lead" } as const;
      const goesTo = { kind: tried ? "rules" : "kept" } as const;
      const made = desk.commit(
        receive(desk.look(null), {
          inquiryId: "i",
          source,
          facts: understood.facts,
          matchedOn: null,
          by,
          goesTo,
        }),
      );
      const id = made.ok ? made.plan.leadId : "";
      if (tried)
        desk.commit(logTry(desk.look(id), { personId: "p_mara", channel: "call", outcome: "voicemail" }));
      const lead = desk.leads.get(id)!;
      expect(unpackLead(packLead(lead))).toEqual(lead);
      expect(packLead(lead).length).toBeLessThan(JSON.stringify(lead).length);
    }),
  );
});
