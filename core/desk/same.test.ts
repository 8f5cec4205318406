import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { understand } from "../intake/understand.ts";
import { completeness } from "../lead/completeness.ts";
import { foldAll } from "../lead/fold.ts";
import { claims, isWaiting, known } from "../lead/lead.ts";
import { calledIn } from "./call.ts";
import { learn } from "./learn.ts";
import { MemoryDesk } from "./memory.ts";
import { receive } from "./receive.ts";
import { type DecidedPair, join, notSame, part, setShared } from "./same.ts";
import { addNote, logTry } from "./work.ts";

const NINE = Date.parse("2026-03-04T16:00:00Z");
const INES = { kind: "person", id: "p_ines" } as const;
const site = tarnholt.sources[0]!;

function desk() {
  const memory = new MemoryDesk(tarnholt, NINE);
  const inquire = (fields: Record<string, string>) => {
    const understood = understand(site, tarnholt.policies, fields);
    if (!understood.ok) throw new Error(understood.reason);
    const inquiry = {
      inquiryId: "i",
      source: site,
      facts: understood.facts,
      matchedOn: null,
      by: { kind: "lead" },
      goesTo: { kind: "rules" },
    } as const;
    const decided = memory.commit(receive(memory.look(null), inquiry));
    return decided.ok ? decided.plan.leadId : "";
  };
  const both = (pair: DecidedPair) => {
    if (pair.ok) for (const plan of [pair.first, pair.second]) memory.commit({ ok: true, plan });
    return pair;
  };
  const lead = (id: string) => memory.leads.get(id)!;
  const events = (id: string) => memory.events.get(id)!;
  return { memory, inquire, both, lead, events };
}

describe("two leads that are one person", () => {
  it("are joined with everything of both, and the one goes on", () => {
    const { memory, inquire, both, lead } = desk();
    const a = inquire({ name: "Ana Ruiz", phone: "303 555 0100", own: "x" });
    const b = inquire({ name: "Anna Ruiz", email: "ana@example.com", product: "cabin" });
    both(join(memory.look(a), lead(b), INES));
    expect(lead(a)).toMatchObject({
      name: "Ana Ruiz",
      inquiries: 2,
      emails: ["ana@example.com"],
      facts: { product: "cabin" },
    });
    expect(claims(lead(a))).toEqual(["+13035550100", "ana@example.com"]);
    expect(lead(b)).toMatchObject({ joinedTo: a, bell: null, handOff: null, nextStep: null });
    expect(claims(lead(b))).toEqual([]);
    expect(join(memory.look(a), lead(b), INES).ok).toBe(false);
    expect(join(memory.look(a), lead(a), INES).ok).toBe(false);
  });
  it("a lead that waits goes on waiting in the other, also in one that was closed", () => {
    const { memory, inquire, both, lead } = desk();
    const old = inquire({ name: "Ana", phone: "303 555 0100" });
    memory.commit(logTry(memory.look(old), { personId: "p_mara", channel: "call", outcome: "reached" }));
    expect(isWaiting(lead(old))).toBe(false);
    const fresh = inquire({ name: "Ana", phone: "303 555 0101" });
    both(join(memory.look(old), lead(fresh), INES));
    expect(isWaiting(lead(old))).toBe(true);
    expect(memory.advance(6 * 60_000)).toBeGreaterThan(0);
    expect(lead(old).bell!.state).toBe("rung");
  });
  it("taken apart, each knows what it knew, whatever was done meanwhile; rows equal their folds", () => {
    const did = fc.constantFrom("note", "try", "wait", "call", "again");
    fc.assert(
      fc.property(fc.array(did, { maxLength: 6 }), (deeds) => {
        const { memory, inquire, both, lead, events } = desk();
        const a = inquire({ name: "Ana Ruiz", phone: "303 555 0100" });
        const b = inquire({
          name: "Anna R",
          phone: "303 555 0101",
          email: "b@example.com",
          postal_code: "80302",
        });
        const [before, other] = [known(lead(a)), lead(b)];
        both(join(memory.look(a), lead(b), INES));
        for (const deed of deeds) {
          if (deed === "note") memory.commit(addNote(memory.look(a), "p_ines", "x"));
          if (deed === "try")
            memory.commit(
              logTry(memory.look(a), { personId: "p_mara", channel: "call", outcome: "voicemail" }),
            );
          if (deed === "wait") memory.advance(4 * 60_000);
          const call = {
            callId: "c",
            line: "",
            from: "+13035550101",
            result: "missed",
            seconds: 0,
            recording: null,
            personId: null,
          } as const;
          if (deed === "call") memory.commit(calledIn(memory.look(a), call));
          if (deed === "again") memory.commit(learn(memory.look(a), { tags: [] }, "p_ines"));
        }
        const pair = both(part(memory.look(a), events(a), lead(b), events(b), "p_ines"));
        expect(pair.ok).toBe(true);
        expect(known(lead(a))).toEqual(before);
        expect(known(lead(b))).toEqual(known(other));
        expect(lead(b).joinedTo).toBeNull();
        for (const id of [a, b]) expect(foldAll(events(id))).toEqual(lead(id));
        for (const id of [a, b])
          expect(lead(id).ownerId ?? lead(id).handOff ?? lead(id).listed).not.toBeNull();
        expect(part(memory.look(a), events(a), lead(b), events(b), "p_ines").ok).toBe(false);
      }),
      { numRuns: 60 },
    );
  });
  it("who is said to be somebody else is not asked about again", () => {
    const { memory, inquire, lead } = desk();
    const a = inquire({ name: "Ana", phone: "303 555 0100" });
    const b = inquire({ name: "Ana", phone: "303 555 0101" });
    memory.commit(notSame(memory.look(a), b, "Ana", "p_ines"));
    expect(lead(a).notSame).toEqual([b]);
    const facts = understand(site, tarnholt.policies, { phone: "303 555 0100" });
    if (!facts.ok) throw new Error(facts.reason);
    const likely = [{ leadId: b, points: 9, evidence: [] }];
    memory.commit(
      receive(memory.look(a), {
        inquiryId: "j",
        source: site,
        facts: facts.facts,
        matchedOn: "phone number",
        by: { kind: "lead" },
        goesTo: { kind: "rules" },
        likely,
      }),
    );
    expect(lead(a).maybe).toEqual([]);
  });
  it("a shared number is no claim", () => {
    const { memory, inquire, lead } = desk();
    const a = inquire({ name: "Front desk", phone: "303 555 0100", email: "inn@example.com" });
    memory.commit(setShared(memory.look(a), "+13035550100", true, "p_ines"));
    expect(claims(lead(a))).toEqual(["inn@example.com"]);
    expect(setShared(memory.look(a), "+13035550199", true, "p_ines")).toMatchObject({
      ok: false,
      problem: { status: 422 },
    });
  });
});

describe("facts filled in by hand", () => {
  it("are taken all or none, each error naming its field", () => {
    const { memory, inquire, lead } = desk();
    const a = inquire({ name: "Ana", phone: "303 555 0100" });
    const wrong = learn(
      memory.look(a),
      { phones: [{ number: "12" }], own: { budget: "much", gone: "x" }, product: "pool" },
      "p_ines",
    );
    expect(wrong).toMatchObject({ ok: false, problem: { status: 422 } });
    if (!wrong.ok)
      expect(wrong.problem.errors!.map((e) => e.path)).toEqual([
        "phones.0",
        "product",
        "own.budget",
        "own.gone",
      ]);
    memory.commit(
      learn(
        memory.look(a),
        {
          postalCode: "g1k 3x2",
          own: { budget: "12,000" },
          forbidden: ["call"],
          phones: [{ number: "418 555 0100", kind: "mobile" }],
          company: "",
        },
        "p_ines",
      ),
    );
    expect(lead(a)).toMatchObject({
      phones: ["+14185550100"],
      company: null,
      facts: {
        postalCode: "G1K3X2",
        territory: "quebec",
        own: { budget: 12_000 },
        forbidden: ["call"],
        kinds: { "+14185550100": "mobile" },
      },
    });
  });
  it("raise how complete the lead is by just their share", () => {
    const { memory, inquire, lead } = desk();
    const a = inquire({ name: "Ana Ruiz", phone: "303 555 0100" });
    const before = completeness(lead(a), tarnholt.policies);
    const [next] = before.missing;
    expect(next).toMatchObject({ fact: "product" });
    memory.commit(learn(memory.look(a), { product: "cabin" }, "p_ines"));
    const after = completeness(lead(a), tarnholt.policies);
    expect(after.percent - before.percent).toBeCloseTo(next!.raises, -0.5);
    const required = {
      ...tarnholt.policies,
      completeness: [],
      fields: [{ ...tarnholt.policies.fields[0]!, required: true }],
    };
    expect(completeness(lead(a), required)).toMatchObject({
      percent: 99,
      missing: [{ fact: "own.holding_back" }],
    });
  });
});
