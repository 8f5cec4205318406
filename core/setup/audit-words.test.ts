import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { inWords } from "../condition/condition.ts";
import { differences } from "./audit-words.ts";

const names: Readonly<Record<string, string>> = { p_mara: "Mara Vance", p_luc: "Luc Okafor" };
const known = { nameOf: (id: string) => names[id] ?? null, zone: "America/Denver", asked: inWords };
const diff = (before: unknown, after: unknown) => differences(before, after, known);

describe("what was changed is said", () => {
  it("by where it stands, with people and times by name", () => {
    const rules = [{ id: "r1", name: "Lodges", offerMinutes: 5, to: { person: "p_mara" } }];
    expect(diff(rules, [{ ...rules[0], offerMinutes: 3, to: { person: "p_luc" } }])).toEqual([
      { where: ["Lodges", "minutes to take it"], was: "5", is: "3" },
      { where: ["Lodges", "goes to", "person"], was: "Mara Vance", is: "Luc Okafor" },
    ]);
    expect(diff({ offUntil: null }, { offUntil: Date.parse("2026-03-04T16:00:00Z") })).toEqual([
      { where: ["off until"], was: null, is: "2026-03-04 09:00" },
    ]);
  });
  it("with conditions as sentences", () => {
    const rule = (value: string) => [
      { id: "r1", name: "Lodges", when: { field: "product", is: "equal", value } },
    ];
    expect(diff(rule("lodge"), rule("barrel"))).toEqual([
      { where: ["Lodges", "for whom"], was: "product is lodge", is: "product is barrel" },
    ]);
  });
  it("for what came, what went, and what only changed places", () => {
    const [a, b] = [
      { key: "a", name: "Barrel" },
      { key: "b", name: "Lodge" },
    ];
    expect(diff([a], [a, b])).toEqual([{ where: ["Lodge"], was: null, is: "key b; name Lodge" }]);
    expect(diff([a, b], [b])).toMatchObject([{ where: ["Barrel"], is: null }]);
    expect(diff([a, b], [b, a])).toEqual([{ where: ["order"], was: "Barrel, Lodge", is: "Lodge, Barrel" }]);
    expect(diff(["x", "y"], ["y", "z"])).toEqual([{ where: [], was: "x", is: "z" }]);
    expect(diff(["x", "y"], ["y", "x"])).toEqual([{ where: ["order"], was: "x, y", is: "y, x" }]);
  });
  it("as nothing where nothing differs, and never without end", () => {
    fc.assert(
      fc.property(fc.jsonValue(), fc.jsonValue(), (a, b) => {
        expect(diff(a, structuredClone(a))).toEqual([]);
        expect(diff(a, b).length).toBeLessThanOrEqual(60);
      }),
    );
  });
  it("for every part of a real set-up that is gone or new", () => {
    for (const part of Object.values(tarnholt.policies)) {
      for (const { was, is } of diff(null, part)) expect(was === null && is !== null).toBe(true);
      expect(diff(part, part)).toEqual([]);
    }
  });
});
