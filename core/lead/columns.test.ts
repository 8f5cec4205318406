import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { isTheirs } from "../access/access.ts";
import { cellsOf, listColumns, USUAL_COLUMNS } from "../words/columns.ts";
import { NOBODY } from "./blank.ts";
import { columnsDiffer, columnsOf, concerns, LISTED_BY, SEPARATOR } from "./columns.ts";
import type { Lead } from "./lead.ts";

const NOW = Date.parse("2026-03-04T16:00:00Z");
const lead = (more: Partial<Lead> = {}): Lead => ({ ...NOBODY, id: "ld_1", ...more });

describe("the columns leads are listed by", () => {
  it("are folded as conditions compare letters: capitals make no other value", () => {
    const columns = columnsOf(lead({ company: "Café Ötzi", stage: "Being Tried", name: "ÉLODIE Roux" }));
    expect(columns).toMatchObject({ company: "café ötzi", stage: "being tried", called: "élodie roux" });
  });

  it("are called by what is known of somebody: name, company, number, address, in that order", () => {
    const known = { name: "Ana", company: "Inn", phones: ["+13035550100"], emails: ["a@b.example"] };
    const order = ["ana", "inn", "+13035550100", "a@b.example", ""];
    const without: Partial<Lead>[] = [
      known,
      { ...known, name: null },
      { ...known, name: null, company: null },
      { ...known, name: null, company: null, phones: [] },
      { name: null, company: null, phones: [], emails: [] },
    ];
    expect(without.map((more) => columnsOf(lead(more)).called)).toEqual(order);
  });

  it("tell each tag and each person apart, whatever is written into a tag", () => {
    fc.assert(
      fc.property(fc.array(fc.string({ minLength: 1, maxLength: 6 }), { maxLength: 5 }), (tags) => {
        const { tags: kept } = columnsOf(lead({ tags }));
        if (tags.length === 0) return kept === null;
        return kept!.split(SEPARATOR).length === tags.length + 2;
      }),
    );
  });

  it("name everybody whose business a lead is, and nobody else, as access does", () => {
    const people = ["p_a", "p_b", "p_c", "p_d"];
    const maybe = fc.option(fc.constantFrom(...people));
    const asked = fc.record({ ownerId: maybe, coversFor: maybe, creditId: maybe });
    fc.assert(
      fc.property(asked, (who) => {
        const them = lead(who);
        const column = columnsOf(them).people ?? "";
        for (const id of people) {
          expect(column.includes(SEPARATOR + id + SEPARATOR)).toBe(isTheirs(them, id));
          expect(concerns(them).includes(id)).toBe(isTheirs(them, id));
        }
      }),
    );
  });

  it("differ when any one of them does, and not when something else of the lead does", () => {
    const before = columnsOf(lead());
    expect(columnsDiffer(before, columnsOf(lead({ seq: 9, pinned: null, fruitless: 2 })))).toBe(false);
    expect(LISTED_BY.every((column) => column in before)).toBe(true);
    expect(Object.keys(before).sort()).toEqual([...LISTED_BY].sort());
    for (const column of LISTED_BY)
      expect(columnsDiffer(before, { ...before, [column]: "other" })).toBe(true);
  });
});

describe("the cells of a list", () => {
  it("have something to say for every column there is, of a lead nothing is known of", () => {
    const keys = listColumns(tarnholt).map((c) => c.key);
    const cells = cellsOf(lead(), keys, tarnholt, NOW);
    expect(Object.keys(cells)).toEqual(keys);
    for (const [key, said] of Object.entries(cells)) expect(typeof said, key).toBe("string");
  });

  it("name products and people, write numbers as people read them and times in the desk’s zone", () => {
    const them = lead({
      name: "Ana Ruiz",
      phones: ["+13035550100"],
      ownerId: "p_mara",
      createdAt: Date.parse("2026-03-03T23:30:00Z"),
      facts: { ...NOBODY.facts, product: "barrel" },
    });
    expect(cellsOf(them, ["name", "product", "with", "phone", "came"], tarnholt, NOW)).toEqual({
      name: "Ana Ruiz",
      product: "Barrel sauna",
      with: "Mara Whitehorse",
      phone: "(303) 555-0100",
      came: expect.stringContaining("16:30"),
    });
  });

  it("hold no column twice, and all that are usual", () => {
    const keys = listColumns(tarnholt).map((c) => c.key);
    expect(new Set(keys).size).toBe(keys.length);
    for (const key of USUAL_COLUMNS) expect(keys).toContain(key);
  });
});
