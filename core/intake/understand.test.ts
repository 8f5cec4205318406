import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { guessFact } from "../policy/field-names.ts";
import type { Source } from "../policy/source.ts";
import { flatten } from "./fields.ts";
import { findTerritory } from "./territory.ts";
import { findProduct, submissionId, understand } from "./understand.ts";

const { policies, sources } = tarnholt;
const site = sources.find((s) => s.key === "plan-your-sauna")!;
const facts = (fields: Record<string, string>, source: Source = site) => {
  const understood = understand(source, policies, fields);
  if (!understood.ok) throw new Error(understood.reason);
  return understood.facts;
};

describe("flattening a payload", () => {
  it("takes an ad form's answers as its fields", () => {
    const payload = {
      submission_id: "s1",
      answers: [
        { field: "full_name", value: "Ana" },
        { field: "units", value: 3 },
      ],
    };
    expect(flatten(payload)).toEqual({ submission_id: "s1", full_name: "Ana", units: "3" });
  });
  it("joins nested names with dots and other lists with commas", () => {
    expect(flatten({ contact: { name: " Ana " }, wants: ["barrel", "plunge"], empty: null })).toEqual({
      "contact.name": "Ana",
      wants: "barrel, plunge",
    });
  });
  it("never throws and gives only text, whatever comes", () => {
    fc.assert(
      fc.property(fc.anything({ maxDepth: 8 }), (payload) => {
        // What cannot be JSON cannot come over the wire.
        if (JSON.stringify(payload) === undefined) return;
        const fields = flatten(JSON.parse(JSON.stringify(payload)));
        for (const value of Object.values(fields)) expect(typeof value).toBe("string");
      }),
    );
  });
});

describe("guessing what a field is", () => {
  it.each([
    ["full_name", "name"],
    ["Name", "name"],
    ["first name", "first_name"],
    ["e-mail", "email"],
    ["courriel", "email"],
    ["phone_number", "phone"],
    ["Mobile", "phone"],
    ["company", "company"],
    ["property_name", "company"],
    ["zip", "postal_code"],
    ["Post Code", "postal_code"],
    ["your question", "message"],
    ["interest", "product"],
    ["favourite colour", null],
  ])("%s is %s", (field, fact) => expect(guessFact(field)).toBe(fact));
});

describe("understanding an inquiry", () => {
  it("brings every part to its one form", () => {
    const said = facts({
      name: "ana ruiz",
      email: "Ana@Example.COM",
      phone: "(406) 555-0123",
      product: "a Barrel sauna, I think",
      message: "Hi",
      postal_code: "597 15",
      holding_back: "price",
    });
    expect(said).toMatchObject({
      emails: ["ana@example.com"],
      phones: ["+14065550123"],
      product: "barrel",
      value: 6_800,
      postalCode: "59715",
      territory: "high-plains",
      zone: "America/Denver",
      own: { holding_back: "price" },
      answers: {},
    });
  });
  it("puts first and last name together, and keeps several numbers once each", () => {
    expect(
      facts({
        first_name: "Ana",
        last_name: "Ruiz",
        phone: "303 555 0123",
        mobile: "+1 303 555 0123",
        cell: "303 555 0124",
      }),
    ).toMatchObject({
      name: "Ana Ruiz",
      phones: ["+13035550123", "+13035550124"],
    });
  });
  it("keeps an answer it has no place for, also a product that is none of ours", () => {
    expect(facts({ phone: "303 555 0123", product: "swimming pool", colour: "red" }).answers).toEqual({
      product: "swimming pool",
      colour: "red",
    });
  });
  it("takes the source's constants where nothing is said", () => {
    const lodge = sources.find((s) => s.key === "ad-lodge")!;
    expect(facts({ phone_number: "802 555 0100" }, lodge)).toMatchObject({ product: "lodge", tags: ["ad"] });
    expect(facts({ phone_number: "802 555 0100", product: "plunge" }, lodge).product).toBe("plunge");
  });
  it("hears the language from the place, or from what is said", () => {
    expect(facts({ phone: "418 555 0100" }).language).toBe("fr");
    expect(facts({ phone: "418 555 0100", language: "EN-ca" }).language).toBe("en");
    expect(facts({ email: "a@example.com" }).language).toBeNull();
  });
  it("does without a bad number when there is a good address", () => {
    expect(facts({ phone: "12", email: "ana@example.com" })).toMatchObject({
      phones: [],
      emails: ["ana@example.com"],
    });
  });
  it.each([
    [{}, "The payload is empty"],
    [{ colour: "red" }, "(fields: colour)"],
    [{ phone: "call me" }, "“call me” is neither"],
  ])("%j fails with a sentence", (fields, reason) => {
    expect(understand(site, policies, fields as Record<string, string>)).toMatchObject({
      ok: false,
      reason: expect.stringContaining(reason),
    });
  });
  it("never throws, whatever the fields", () => {
    fc.assert(
      fc.property(
        fc.dictionary(fc.string(), fc.string()),
        (fields) => typeof understand(site, policies, fields).ok === "boolean",
      ),
    );
  });
  it("finds the sender's own number of the submission", () => {
    expect(submissionId({ Submission_Id: "7" })).toBe("7");
    expect(submissionId({ id: "7" })).toBeNull();
  });
});

describe("products and territories", () => {
  it.each([
    ["BARREL", "barrel"],
    ["wood-fired hot tub", "wood-fired"],
    ["several units", "lodge"],
    ["pool", undefined],
    [null, undefined],
  ])("%s is %s", (written, key) => expect(findProduct(policies, written)?.key).toBe(key));
  it("the postal code tells more than the phone", () => {
    expect(findTerritory(policies.territories, "98101", ["+13035550100"])?.key).toBe("cascades");
    expect(findTerritory(policies.territories, null, ["+19025550100"])?.key).toBe("maritimes");
    expect(findTerritory(policies.territories, "99999X", ["+442079460018"])?.key).toBe("cascades");
    expect(findTerritory(policies.territories, null, [])).toBeNull();
  });
});

describe("numbers and addresses that can't be read", () => {
  it("are kept as they were written, beside those that can", () => {
    expect(
      facts({ name: "Ana", phone: "12345", "phone 2": "303 555 0123", email: "ana(at)example" }),
    ).toMatchObject({
      phones: ["+13035550123"],
      emails: [],
      unread: ["ana(at)example", "12345"],
    });
  });
  it("are said where nothing else is known", () => {
    const understood = understand(site, policies, { name: "Ana", phone: "12345" });
    expect(understood).toMatchObject({ ok: false, unread: ["12345"] });
    expect(understood.ok ? "" : understood.reason).toContain("“12345”");
  });
  it("never go missing: whatever is written is a way to reach them or said to be none", () => {
    const text = fc.oneof(
      fc.string({ maxLength: 40 }),
      fc.stringMatching(/^[0-9 ()+-]{1,18}$/),
      fc.stringMatching(/^[a-z]{1,8}@[a-z]{1,8}(\.[a-z]{2,3})?$/),
    );
    fc.assert(
      fc.property(text, text, (phone, email) => {
        const read = facts({ name: "Ana", "phone 2": "303 555 0123", phone, email });
        const { phones, emails, unread = [] } = read;
        const wrote = [phone, email].filter((t) => t.trim()).length;
        // A number written twice is one number.
        const same = phones.length === 1 && !unread.includes(phone.trim()) && phone.trim() ? 1 : 0;
        expect(phones.length - 1 + same + emails.length + unread.length).toBe(wrote);
      }),
    );
  });
});
