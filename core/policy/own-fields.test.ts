import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { keyOf, type OwnField, type OwnFieldType, readOwnValue, sayOwnValue } from "./own-fields.ts";

const field = (type: OwnFieldType, choices: string[] = []): OwnField => ({
  key: "x",
  name: "X",
  type,
  choices,
  required: false,
});
const read = (type: OwnFieldType, written: string, choices?: string[]) => {
  const value = readOwnValue(field(type, choices), written);
  return value.ok ? value.value : null;
};

describe("values of the company's own fields", () => {
  it.each<[OwnFieldType, string, unknown]>([
    ["number", "1,234.5", 1234.5],
    ["number", "1.234,5", 1234.5],
    ["number", "1,234", 1234],
    ["number", "3,5", 3.5],
    ["money", "$ 12,000", 12_000],
    ["money", "12 000 €", 12_000],
    ["money", "USD 40000", 40_000],
    ["number", "about ten", null],
    ["date", "2026-03-04", "2026-03-04"],
    ["date", "3/4/2026", "2026-03-04"],
    ["date", "4.3.2026", "2026-03-04"],
    ["date", "2026-02-30", null],
    ["birthday", "1980-05-01", "05-01"],
    ["birthday", "05-01", "05-01"],
    ["birthday", "2/29", "02-29"],
    ["yes-no", "Oui", true],
    ["yes-no", "NO", false],
    ["yes-no", "maybe", null],
    ["link", "https://a.example/x", "https://a.example/x"],
    ["link", "javascript:alert(1)", null],
    ["text", "  as said ", "as said"],
  ])("%s: %s is %s", (type, written, value) => expect(read(type, written)).toEqual(value));

  it("choices are kept in the company's spelling", () => {
    expect(read("choice", "POWER", ["Power", "Price"])).toBe("Power");
    expect(read("choice", "Colour", ["Power"])).toBeNull();
    expect(read("choices", "price; POWER, price", ["Power", "Price"])).toEqual(["Price", "Power"]);
    expect(read("choices", "a, b", ["a, b", "c"])).toEqual(["a, b"]);
  });
  it("never throws, and what it reads it reads again the same", () => {
    const type = fc.constantFrom<OwnFieldType>(
      "text",
      "number",
      "money",
      "date",
      "birthday",
      "yes-no",
      "link",
      "choice",
      "choices",
    );
    fc.assert(
      fc.property(type, fc.string(), (t, written) => {
        const value = readOwnValue(field(t, ["a", "b"]), written);
        if (!value.ok || typeof value.value === "boolean") return;
        const again = typeof value.value === "object" ? value.value.join(",") : String(value.value);
        if (!/e/.test(again)) expect(readOwnValue(field(t, ["a", "b"]), again)).toEqual(value);
      }),
    );
  });
  it("are said as people read them", () => {
    expect(sayOwnValue(field("money"), 12_000, "USD")).toBe("$12,000");
    expect(sayOwnValue(field("birthday"), "05-01", "USD")).toBe("1 May");
    expect(sayOwnValue(field("yes-no"), true, "USD")).toBe("yes");
    expect(sayOwnValue(field("choices"), ["a", "b"], "USD")).toBe("a, b");
  });
  it("a field's key comes from its name", () =>
    expect(keyOf("Snow load (psf), été")).toBe("snow_load_psf_ete"));
});
