import fc from "fast-check";
import jaroWinklerOfTalisman from "talisman/metrics/jaro-winkler";
import { describe, expect, it } from "vitest";
import { blockingKeys, type Identity, likeness, nameLikeness, sound, WEIGHTS } from "./likely.ts";
import { jaroWinkler } from "./similar.ts";

const somebody = (more: Partial<Identity> = {}): Identity => ({
  name: null,
  company: null,
  emails: [],
  phones: [],
  postalCode: null,
  ...more,
});

describe("Jaro–Winkler", () => {
  // Winkler's published examples; value from memory.
  it.each([
    ["MARTHA", "MARHTA", 0.961],
    ["DWAYNE", "DUANE", 0.84],
    ["DIXON", "DICKSONX", 0.813],
  ])("%s and %s are %d alike", (a, b, alike) => expect(jaroWinkler(a, b)).toBeCloseTo(alike, 3));

  it("is symmetric, 1 for the same, between 0 and 1, and what the package talisman says", () => {
    const word = fc.string({ unit: fc.constantFrom(..."abcdeimnrst"), maxLength: 12 });
    fc.assert(
      fc.property(word, word, (a, b) => {
        const alike = jaroWinkler(a, b);
        expect(alike).toBeGreaterThanOrEqual(0);
        expect(alike).toBeLessThanOrEqual(1);
        expect(jaroWinkler(b, a)).toBeCloseTo(alike, 10);
        expect(jaroWinkler(a, a)).toBe(1);
        // talisman gives its bonus only from a base of 0.7 on; below that nobody here asks.
        if (a && b && alike > 0.8) expect(jaroWinklerOfTalisman(a, b)).toBeCloseTo(alike, 10);
      }),
    );
  });
});

describe("how a name sounds", () => {
  // American Soundex, the National Archives' examples; value from memory.
  it.each([
    ["Robert", "r163"],
    ["Rupert", "r163"],
    ["Tymczak", "t522"],
    ["Pfister", "p236"],
    ["Honeyman", "h555"],
    ["Ashcraft", "a261"],
  ])("%s is %s", (name, code) => expect(sound(name)).toBe(code));
});

describe("names that nearly match", () => {
  it.each([
    ["Ana Ruiz", "ANA RUÍZ"],
    ["Ana Ruiz", "Ruiz, Ana"],
    ["Catherine Whitfield", "Katherine Whitfield"],
    ["J. Moreau", "Jean Moreau"],
    ["Mary Jane Watson", "Mary Watson"],
  ])("%s is like %s", (a, b) => expect(nameLikeness(a, b)).toBeGreaterThanOrEqual(WEIGHTS.nameFrom));
  it.each([
    ["Ana Ruiz", "Ana Rossi"],
    ["Ana Ruiz", "Luis Ruiz"],
    ["", "Ana"],
  ])("%s is not like %s", (a, b) => expect(nameLikeness(a, b)).toBeLessThan(WEIGHTS.nameFrom));
});

describe("evidence that two are one", () => {
  const ana = somebody({ name: "Ana Ruiz", postalCode: "80302", emails: ["ana.ruiz@gmail.com"] });
  it("a name alone is not enough, a name and a place are", () => {
    expect(likeness(ana, somebody({ name: "Ana Ruiz" })).points).toBeLessThan(WEIGHTS.likely);
    expect(likeness(ana, somebody({ name: "Anna Ruiz", postalCode: "80302" })).points).toBeGreaterThanOrEqual(
      WEIGHTS.likely,
    );
  });
  it("a household with one number is not one person", () => {
    const [one, two] = [
      somebody({ name: "Ana Ruiz", phones: ["+13035550100"], postalCode: "80302" }),
      somebody({ name: "Luis Ruiz", phones: ["+13035550100"], postalCode: "80302" }),
    ];
    expect(likeness(one, two).points).toBeLessThan(WEIGHTS.likely);
  });
  it("a public mail domain tells nothing, one's own does", () => {
    const said = (email: string) =>
      likeness(somebody({ emails: [`a@${email}`] }), somebody({ emails: [`b@${email}`] }));
    expect(said("gmail.com").evidence).toEqual([]);
    expect(said("larkmoor.example").evidence[0]!.about).toBe("mail domain");
  });
  it("gives the same points from either side, and says why for each", () => {
    const text = fc.constantFrom("Ana Ruiz", "Luis Ruiz", "Ana Rossi", "Larkmoor Ltd");
    const who = fc.record({
      name: fc.option(text),
      company: fc.option(text),
      emails: fc.subarray(["ana.ruiz@inn.example", "ana.ruiz@gmail.com"]),
      phones: fc.subarray(["+13035550100"]),
      postalCode: fc.option(fc.constantFrom("80302", "80303")),
    });
    fc.assert(
      fc.property(who, who, (a, b) => {
        const [ab, ba] = [likeness(a, b), likeness(b, a)];
        expect(ab.points).toBe(ba.points);
        expect(ab.evidence.every((e) => e.said.length > 0)).toBe(true);
      }),
    );
  });
  it("whoever is likely shares a blocking key, so that they are found", () => {
    const again = somebody({ name: "Anna Ruiz", postalCode: "80302" });
    expect(blockingKeys(ana).filter((k) => blockingKeys(again).includes(k))).not.toEqual([]);
    const turned = somebody({ name: "Ruiz, Ana", emails: ["ana.ruiz@work.example"] });
    expect(blockingKeys(ana).filter((k) => blockingKeys(turned).includes(k))).not.toEqual([]);
  });
});
