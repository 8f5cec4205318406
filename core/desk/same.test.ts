import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { understand } from "../intake/understand.ts";
import { completeness } from "../lead/completeness.ts";
import { foldAll } from "../lead/fold.ts";
import { claims, isWaiting } from "../lead/lead.ts";
import { known } from "../lead/standing.ts";
import { describeEvent } from "../words/describe.ts";
import { promise } from "./bells.ts";
import { calledIn } from "./call.ts";
import { credit, give, take } from "./hand-off.ts";
import { learn } from "./learn.ts";
import { MemoryDesk } from "./memory.ts";
import { addNote } from "./notes.ts";
import { park } from "./park.ts";
import type { Decided } from "./plan.ts";
import { receive } from "./receive.ts";
import { type DecidedPair, join, notSame, part, setShared } from "./same.ts";
import { close } from "./stage.ts";
import { logTry, markStop, pin, setNextStep, writeTo } from "./work.ts";

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
  it("joined and taken apart at once are what they were, whatever each had been through: the whole of both", () => {
    const deeds = {
      take: (d, id) => take(d.look(id), "p_mara"),
      voicemail: (d, id) => logTry(d.look(id), { personId: "p_noor", channel: "call", outcome: "voicemail" }),
      reached: (d, id) => logTry(d.look(id), { personId: "p_mara", channel: "call", outcome: "reached" }),
      later: (d, id) =>
        writeTo(d.look(id), { personId: "p_ines", channel: "text", body: "Hi", sendAt: d.now + 86_400_000 }),
      promise: (d, id) => promise(d.look(id), "p_ines", "we call", d.now + 7_200_000),
      step: (d, id) =>
        setNextStep(d.look(id), "p_ines", { kind: "call", dueAt: d.now + 3_600_000, note: "Call" }),
      park: (d, id) => park(d.look(id), "p_ines", "Builds in spring", null),
      close: (d, id) => close(d.look(id), "p_ines", "No fit"),
      stop: (d, id) => markStop(d.look(id), "p_ines", "call", true, "no calls"),
      pin: (d, id) => pin(d.look(id), "p_ines", "Twins in autumn"),
      give: (d, id) => give(d.look(id), "p_ines", "p_sol", "knows them"),
      credit: (d, id) => credit(d.look(id), "p_ines", "p_luc", ""),
    } satisfies Record<string, (d: MemoryDesk, id: string) => Decided>;
    const did = fc.array(fc.constantFrom(...(Object.keys(deeds) as (keyof typeof deeds)[])), {
      maxLength: 5,
    });
    fc.assert(
      fc.property(did, did, (onA, onB) => {
        const { memory, inquire, both, lead, events } = desk();
        const a = inquire({ name: "Ana Ruiz", phone: "303 555 0100", email: "a@example.com" });
        const b = inquire({ name: "Anna R", phone: "303 555 0101", email: "b@example.com" });
        // What is refused changes nothing.
        for (const deed of onA) memory.commit(deeds[deed](memory, a));
        for (const deed of onB) memory.commit(deeds[deed](memory, b));
        const before = [lead(a), lead(b)];
        both(join(memory.look(a), lead(b), INES));
        expect(both(part(memory.look(a), events(a), lead(b), events(b), "p_ines")).ok).toBe(true);
        for (const was of before) {
          const is = lead(was.id);
          const { seq: _, lastActivityAt: __, notSame: ___, ...rest } = is;
          expect(rest).toEqual({
            ...was,
            seq: undefined,
            lastActivityAt: undefined,
            notSame: undefined,
            // Whoever asks one of them to stop has asked both: which of the two it was, nobody knew.
            stops: is.stops,
          } satisfies Record<string, unknown>);
          expect(is.stops).toEqual(expect.arrayContaining([...was.stops]));
          expect(foldAll(events(was.id))).toEqual(is);
        }
      }),
      { numRuns: 200 },
    );
  });
  it("messages that wait come along and come back; one that has gone meanwhile is not sent twice, and that is said", () => {
    const { memory, inquire, both, lead, events } = desk();
    const a = inquire({ name: "Ana Ruiz", phone: "303 555 0100" });
    const b = inquire({ name: "Anna R", phone: "303 555 0101" });
    const text = (body: string, minutes: number) => ({
      personId: "p_ines",
      channel: "text" as const,
      body,
      sendAt: memory.now + minutes * 60_000,
    });
    memory.commit(writeTo(memory.look(b), text("Soon", 10)));
    memory.commit(writeTo(memory.look(b), text("Late", 600)));
    both(join(memory.look(a), lead(b), INES));
    expect(lead(a).scheduled.map((s) => s.body)).toEqual(["Soon", "Late"]);
    memory.advance(20 * 60_000);
    expect(memory.messages.filter((m) => m.body === "Soon")).toHaveLength(1);
    both(part(memory.look(a), events(a), lead(b), events(b), "p_ines"));
    expect(lead(a).scheduled).toEqual([]);
    expect(lead(b).scheduled.map((s) => s.body)).toEqual(["Late"]);
    const said = describeEvent(events(a).findLast((e) => e.kind === "parted")!, tarnholt);
    expect(said).toBe(
      "Taken apart again from Anna R. A message that waited has gone or been taken back meanwhile",
    );
    memory.advance(600 * 60_000);
    expect(memory.messages.filter((m) => m.body === "Soon")).toHaveLength(1);
    expect(memory.messages.filter((m) => m.body === "Late")).toHaveLength(1);
  });
  it("tries stay with whom they were made to, and each has its owner again", () => {
    const { memory, inquire, both, lead, events } = desk();
    const a = inquire({ name: "Ana Ruiz", phone: "303 555 0100" });
    const b = inquire({ name: "Anna R", phone: "303 555 0101" });
    const voicemail = { personId: "p_mara", channel: "call", outcome: "voicemail" } as const;
    memory.commit(logTry(memory.look(b), voicemail));
    const owner = lead(b).ownerId;
    both(join(memory.look(a), lead(b), INES));
    expect(lead(a).tries).toBe(1);
    memory.commit(logTry(memory.look(a), voicemail));
    both(part(memory.look(a), events(a), lead(b), events(b), "p_ines"));
    expect([lead(a).tries, lead(b).tries]).toEqual([1, 1]);
    expect(lead(b).ownerId).toBe(owner);
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
