import Decimal from "decimal.js";
import fc from "fast-check";
import { all, create } from "mathjs";
import { describe, expect, it } from "vitest";
import { FUNCTION_NAMES, LONGEST, parse, reckon } from "./formula.ts";

/** mathjs with exact fractions: a second expression library, and rational arithmetic in one. */
const exact = create(all!, { number: "Fraction" });

const come = (text: string, known: Record<string, number | string> = {}) => {
  const result = reckon(
    text,
    Object.fromEntries(Object.entries(known).map(([key, value]) => [key, new Decimal(value)])),
  );
  return result.ok ? result.value.toString() : `${result.message} @${result.at}`;
};

describe("a formula", () => {
  it.each([
    // Common practice: what a house is worth after, less costs and a fee.
    ["140000 * 65% - 40000 - 10000", "41000"],
    ["worth × share − 40000 − 10000", "41000"],
    ["0.1 + 0.2", "0.3"],
    ["5%", "0.05"],
    ["(200 + 50) * 10%", "25"],
    ["65% - 1", "-0.35"],
    ["- - 3", "3"],
    ["round(1234, 50)", "1250"],
    ["round(-2.5)", "-3"],
    ["up(101, 50)", "150"],
    ["down(149.99, 50)", "100"],
    ["max(1, 2, 3) - min(4, 5)", "-1"],
    ["if(2 > 1, 10, 1 / 0)", "10"],
    ["1 < 2 and 3 <> 3 or 2 >= 2", "1"],
    ["1 = 2", "0"],
  ])("%s comes to %s", (text, value) => expect(come(text, { worth: 140_000, share: "0.65" })).toBe(value));

  it.each([
    ["", "Write a formula. @0"],
    ["1 +", "Something is missing at the end. @3"],
    ["1 / 0", "It divides by nothing. @2"],
    ["area * 2", "“area” is neither an input nor a line above. @0"],
    ["2 * constructor", "“constructor” is neither an input nor a line above. @4"],
    ["sqrt(2)", "There is no function “sqrt”. There are: min, max, round, up, down, abs, if. @0"],
    ["min()", "“min” takes 1 to 20 values, not 0. @0"],
    ["1; 2", "Only one sum can stand here: numbers, names, + − × ÷ and functions. @0"],
    ['"a"', '“"a"” is no number. @0'],
    ["round(1, 0)", "Round to a multiple of 0.0001 or more. @0"],
    ["1e15 * 10", "It becomes too large. @0"],
  ])("%s is refused with its place", (text, said) => expect(come(text)).toBe(said));

  it("runs nothing: what programs would run is no formula", () => {
    for (const text of ["this", "a.b", "a[0]", "[1]", "`x`", "x => x", "new x", "a ? b : c", "a = b = c; 1"])
      expect(reckon(text, {}).ok).toBe(false);
    expect(FUNCTION_NAMES).not.toContain("eval");
  });

  it("any text gives a value or an error within the text, and long ones none", () => {
    const text = fc.oneof(
      fc.string({ maxLength: 60 }),
      fc.string({ unit: fc.constantFrom(..."0123456789.+-*/()%, <>=abcmin−×÷"), maxLength: 60 }),
      fc.constantFrom("(".repeat(400), "-".repeat(400), "1%".repeat(200), `${"min(".repeat(100)}1`),
    );
    fc.assert(
      fc.property(text, (written) => {
        const result = reckon(written, { a: new Decimal(1), b: new Decimal(2) });
        if (result.ok) expect(result.value.isFinite()).toBe(true);
        else {
          expect(result.message).not.toBe("");
          expect(result.at).toBeGreaterThanOrEqual(0);
          expect(result.at).toBeLessThanOrEqual(written.length);
        }
      }),
      { numRuns: 2_000 },
    );
    expect(parse("1+".repeat(LONGEST)).ok).toBe(false);
  });

  it("equals exact fractions on random sums", () => {
    const number = fc.integer({ min: -9_999, max: 9_999 }).map((n) => (n < 0 ? `(${n / 4})` : String(n / 4)));
    const { sum } = fc.letrec((tie) => ({
      sum: fc.oneof(
        { depthSize: "small", withCrossShrink: true },
        number,
        fc
          .tuple(tie("sum"), fc.constantFrom("+", "-", "*"), tie("sum"))
          .map(([a, op, b]) => `(${a} ${op} ${b})`),
        // By what divides into a few decimals alone: then 34 digits are all there are.
        fc.tuple(tie("sum"), fc.constantFrom(2, 4, 5, 8, 10)).map(([a, n]) => `(${a} / ${n})`),
        fc.tuple(tie("sum"), tie("sum")).map(([a, b]) => `max(${a}, ${b})`),
      ),
    }));
    fc.assert(
      fc.property(sum as fc.Arbitrary<string>, (text) => {
        fc.pre(text.length <= 300);
        const ours = reckon(text, {});
        const theirs = exact.fraction(exact.evaluate(text));
        if (!ours.ok) {
          // The sum itself, or one it is made of: `max` may leave it out again.
          const parts = exact.parse(text).filter((node) => !exact.isSymbolNode(node));
          const sizes = parts.map((node) => Math.abs(Number(exact.fraction(node.evaluate()))));
          expect(Math.max(...sizes)).toBeGreaterThan(1e15);
          return;
        }
        // As fractions of whole numbers: nothing is rounded on either side.
        const [whole = "", parts = ""] = ours.value.toFixed().replace("-", "").split(".");
        const over = BigInt(whole + parts) * (ours.value.isNegative() ? -1n : 1n);
        const under = 10n ** BigInt(parts.length);
        expect(over * BigInt(theirs.d)).toBe(BigInt(theirs.s) * BigInt(theirs.n) * under);
      }),
      { numRuns: 1_500 },
    );
  });
});
