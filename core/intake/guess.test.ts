import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { type Mapping, mapTo, NO_MAPPING } from "../policy/mapping.ts";
import type { Source } from "../policy/source.ts";
import { guessMapping, unmappedFields } from "./guess.ts";
import { understand } from "./understand.ts";

const { policies, sources } = tarnholt;
const base = sources.find((s) => s.key === "partners")!;
const under = (mapping: Partial<Mapping>, fields: Record<string, string>, more: Partial<Source> = {}) => {
  const understood = understand(
    { ...base, ...more, mapping: { ...NO_MAPPING, ...mapping } },
    policies,
    fields,
  );
  if (!understood.ok) throw new Error(understood.reason);
  return understood.facts;
};

describe("a mapping", () => {
  it("joins fields, translates words, tells the kind of phone, keeps the rest as answers", () => {
    const facts = under(
      {
        fields: {
          handy: { to: "phone", kind: "mobile" },
          permis: { to: "own.permit", translate: { oui: "yes", non: "no" } },
          email: { to: "answer" },
        },
        joins: [{ from: ["rue", "ville"], between: ", ", to: "address" }],
        constants: { product: "cabin", detail: "the fair" },
        tags: ["partner"],
      },
      {
        handy: "303 555 0123",
        permis: "OUI",
        rue: "12 Larch Way",
        ville: "Bozeman",
        email: "not-theirs@example.com",
        farbe: "rot",
      },
    );
    expect(facts).toMatchObject({
      phones: ["+13035550123"],
      emails: [],
      kinds: { "+13035550123": "mobile" },
      own: { permit: true },
      address: "12 Larch Way, Bozeman",
      product: "cabin",
      detail: "the fair",
      tags: ["partner"],
      answers: { email: "not-theirs@example.com", farbe: "rot" },
    });
  });
  it.each([
    ["Ruiz, Ana", undefined, "Ana Ruiz"],
    ["Ruiz Ana María", "family-first" as const, "Ana María Ruiz"],
    ["Ana Ruiz", undefined, "Ana Ruiz"],
    ["Ana", "family-first" as const, "Ana"],
  ])("reads the name %s as %s", (written, order, name) =>
    expect(
      under({ fields: { n: { to: "name", ...(order && { order }) } } }, { n: written, phone: "303 555 0123" })
        .name,
    ).toBe(name),
  );
  it("keeps a value its own field can't take as it was said", () =>
    expect(
      under({ fields: { b: { to: "own.budget" } } }, { b: "a lot", phone: "303 555 0123" }),
    ).toMatchObject({
      answers: { b: "a lot" },
    }));
  it("a choice of a form sets its tag", () => {
    const site = sources.find((s) => s.key === "plan-your-sauna")!;
    const facts = under(
      site.mapping,
      { phone: "303 555 0123", holding_back: "just looking" },
      { form: site.form! },
    );
    expect(facts.tags).toEqual(["just looking"]);
  });
  it("never throws, whatever the mapping and the fields", () => {
    const name = fc.constantFrom("a", "b", "phone", "x y");
    const to = fc.constantFrom(
      "name",
      "phone",
      "email",
      "own.budget",
      "own.gone",
      "tag",
      "preferred",
      "answer",
    ) as fc.Arbitrary<Mapping["fields"][string]["to"]>;
    const fields = fc.dictionary(name, fc.record({ to, translate: fc.dictionary(fc.string(), fc.string()) }));
    const join = fc.record({
      from: fc.array(name, { minLength: 2, maxLength: 3 }),
      between: fc.string(),
      to: fc.constant("name" as const),
    });
    fc.assert(
      fc.property(fields, fc.array(join), fc.dictionary(name, fc.string()), (f, joins, said) => {
        const mapping = { ...NO_MAPPING, fields: f, joins };
        expect(typeof understand({ ...base, mapping }, policies, said).ok).toBe("boolean");
      }),
    );
  });
  it("names what it leaves unmapped", () =>
    expect(
      unmappedFields(mapTo({ a: "name" }), {
        a: "x",
        phone: "1",
        farbe: "rot",
        submission_id: "7",
        leer: "",
      }),
    ).toEqual(["farbe"]));
});

describe("a first guess", () => {
  it("goes by the company's own fields, by names, by looks, and by products", () => {
    const samples = [
      {
        Wer: "Ana Ruiz",
        Nummer: "(303) 555-0123",
        Post: "ana@example.com",
        Budget: "12000",
        Modell: "barrel",
        Notiz: "Wants it by May",
      },
      {
        Wer: "Luis Rossi",
        Nummer: "303 555 0124",
        Post: "luis@example.org",
        Budget: "",
        Modell: "Plunge tub",
        Notiz: "Call after five please",
      },
    ];
    expect(guessMapping(samples, policies)).toEqual({
      Wer: { to: "name" },
      Nummer: { to: "phone" },
      Post: { to: "email" },
      Budget: { to: "own.budget" },
      Modell: { to: "product" },
      Notiz: { to: "message" },
    });
  });
});
