import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { decimalsOf, fromMinor, nearestMinor, sayMoney, toMinor } from "./money.ts";

describe("money", () => {
  // ISO 4217: minor units of each currency.
  it.each([
    ["USD", 2],
    ["JPY", 0],
    ["KWD", 3],
  ])("%s has %i decimals", (currency, n) => expect(decimalsOf(currency)).toBe(n));

  it.each([
    ["41000", "USD", 4_100_000],
    ["0.1", "USD", 10],
    [1.15, "USD", 115],
    ["-3.05", "USD", -305],
    ["12", "JPY", 12],
    ["1.234", "KWD", 1_234],
    ["1.234", "USD", null],
    ["1,000", "USD", null],
    ["", "USD", null],
    ["1e9", "USD", null],
    ["999999999999999", "USD", null],
  ])("%s %s is kept as %s", (text, currency, minor) => expect(toMinor(text, currency)).toBe(minor));

  it("never changes by a cent over the wire and back", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -(10 ** 12), max: 10 ** 12 }),
        fc.constantFrom("USD", "JPY", "KWD"),
        (minor, currency) => {
          const sent = JSON.parse(JSON.stringify(fromMinor(minor, currency))) as number;
          expect(toMinor(sent, currency)).toBe(minor);
          expect(nearestMinor(sent, currency)).toBe(minor);
        },
      ),
      { numRuns: 3_000 },
    );
  });

  it("is rounded half away from zero, and nothing is never less than nothing", () => {
    expect([nearestMinor("1.005", "USD"), nearestMinor("-1.005", "USD")]).toEqual([101, -101]);
    expect(Object.is(nearestMinor("-0.001", "USD"), -0)).toBe(false);
  });

  it("is said with its parts where it has any", () => {
    expect([sayMoney(4_100_000, "USD"), sayMoney(4_100_050, "USD"), sayMoney(12, "JPY")]).toEqual([
      "$41,000",
      "$41,000.50",
      "¥12",
    ]);
  });
});
