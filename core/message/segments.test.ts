import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { plainer, segments } from "./segments.ts";

/** Limits of 3GPP TS 23.038 and 23.040: 160 or 153 septets, 70 or 67 code units. */
describe("parts of a text message", () => {
  it.each([
    ["", "GSM-7", 0, 0],
    ["a".repeat(160), "GSM-7", 160, 1],
    ["a".repeat(161), "GSM-7", 161, 2],
    ["a".repeat(306), "GSM-7", 306, 2],
    ["a".repeat(307), "GSM-7", 307, 3],
    ["€".repeat(80), "GSM-7", 160, 1],
    ["€".repeat(81), "GSM-7", 162, 2],
    ["[]{}\\^~|€", "GSM-7", 18, 1],
    ["Ω".repeat(160), "GSM-7", 160, 1],
    ["ł".repeat(70), "UCS-2", 70, 1],
    ["ł".repeat(71), "UCS-2", 71, 2],
    ["ł".repeat(134), "UCS-2", 134, 2],
    ["ł".repeat(135), "UCS-2", 135, 3],
    ["😀".repeat(35), "UCS-2", 70, 1],
    ["😀".repeat(36), "UCS-2", 72, 2],
  ] as const)("%j: %s, %d units, %d parts", (text, encoding, units, parts) =>
    expect(segments(text)).toMatchObject({ encoding, units, parts }),
  );
  it("never part an escape from its character: 152 letters and a euro sign need a new part", () => {
    // The euro sign takes two septets; one is left in the first part, so it moves to the second whole.
    expect(segments(`${"a".repeat(152)}€${"a".repeat(152)}`)).toMatchObject({ units: 306, parts: 3 });
    expect(segments(`${"ł".repeat(66)}😀${"ł".repeat(66)}`)).toMatchObject({ units: 134, parts: 3 });
  });
  it("name what made it long, each once", () => {
    expect(segments("Voilà — 3 m × 2 m — ça va").culprits).toEqual(["—", "×", "ç"]);
    expect(segments(plainer("It’s “here” – now…")).encoding).toBe("GSM-7");
  });
  it("hold whatever is written, and never more than fits", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary", maxLength: 700 }), (text) => {
        const { encoding, units, parts, room } = segments(text);
        const { alone, each } = encoding === "GSM-7" ? { alone: 160, each: 153 } : { alone: 70, each: 67 };
        expect(room).toBeGreaterThanOrEqual(0);
        if (parts > 1) expect(parts * each - room).toBeGreaterThanOrEqual(units);
        expect(parts <= 1).toBe(units <= alone);
      }),
    );
  });
});
