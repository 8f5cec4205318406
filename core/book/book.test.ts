import ICAL from "ical.js";
import { describe, expect, it } from "vitest";
import { contactCard } from "./card.ts";
import { foldRecord } from "./events.ts";
import { companyLikeness, contactLikeness } from "./match.ts";
import { blankRecord, type Company, type Contact } from "./records.ts";

const company = (more: Partial<Company>) => ({ ...blankRecord("company", "c1", 0), ...more }) as Company;
const contact = (more: Partial<Contact>) => ({ ...blankRecord("contact", "p1", 0), ...more }) as Contact;

describe("matching with the book", () => {
  const lodge = company({ name: "Granite Lodge", domain: "granite.example", postalCode: "80301" });
  const said = { name: null, domain: null, phone: null, postalCode: null };
  it("a company is known by its domain, its name or its number, and says why", () => {
    expect(companyLikeness({ ...said, domain: "granite.example" }, lodge)).toEqual({
      id: "c1",
      points: 6,
      reasons: ["the same domain, granite.example"],
    });
    expect(companyLikeness({ ...said, name: "The Granite Lodge, LLC", postalCode: "80301" }, lodge)).toEqual({
      id: "c1",
      points: 6,
      reasons: ["the same name", "both are in 80301"],
    });
  });
  it("a place alone is no reason", () =>
    expect(companyLikeness({ ...said, name: "Harbour Inn", postalCode: "80301" }, lodge).points).toBe(0));
  it("a contact is known by address, number or name", () => {
    const rosa = contact({ name: "Rosa Lindqvist", emails: ["r@x.example"], phones: ["+13035550101"] });
    expect(contactLikeness({ name: "Lindqvist, Rosa", emails: [], phones: ["+13035550101"] }, rosa)).toEqual({
      id: "p1",
      points: 10,
      reasons: ["the same phone number", "the same name"],
    });
    expect(contactLikeness({ name: "Otis Ulrich", emails: [], phones: [] }, rosa).points).toBe(0);
  });
});

describe("a record", () => {
  it("takes its events in order, and no other", () => {
    const head = {
      id: "e",
      recordId: "c1",
      record: "company",
      actId: "a",
      at: 5,
      actor: { kind: "desk" },
    } as const;
    const made = foldRecord(null, { ...head, seq: 1, kind: "made", data: { fields: { name: "A" } } });
    expect(made).toMatchObject({ name: "A", seq: 1, createdAt: 5 });
    expect(() => foldRecord(made, { ...head, seq: 3, kind: "noted", data: { text: "x" } })).toThrow(
      "company c1: event 3 cannot follow 1.",
    );
  });
});

describe("a card", () => {
  it("is read by another library as it was meant, long lines and signs included", () => {
    const name = "Zoë Ångström-Fernández de la Vega y Montserrat; née “Łukasz”, the younger";
    const card = contactCard(
      contact({
        name,
        role: "Owner\nand cook",
        emails: ["a@x.example", "b@x.example"],
        phones: ["+13035550101"],
      }),
      company({ name: "Inn; Sons, Ltd" }),
      { host: "x.example", at: "20260304T150000Z" },
    );
    for (const line of card.split("\r\n")) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75);
    const read = new ICAL.Component(ICAL.parse(card));
    expect(read.getFirstPropertyValue("fn")).toBe(name);
    expect(read.getFirstPropertyValue("title")).toBe("Owner\nand cook");
    expect(read.getFirstPropertyValue("org")).toContain("Inn");
    expect(read.getAllProperties("email").map((p) => p.getFirstValue())).toEqual([
      "a@x.example",
      "b@x.example",
    ]);
  });
});
