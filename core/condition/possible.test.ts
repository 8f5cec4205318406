import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { evaluate } from "./condition.ts";
import { canHold } from "./possible.ts";
import type { Condition, FieldKey, FieldValue } from "./tree.ts";

const FIELDS = ["product", "country", "tag", "company"] as const;
const value = fc.constantFrom<FieldValue>("lodge", "CA", "spa", null);
const test: fc.Arbitrary<Condition> = fc.record({
  field: fc.constantFrom(...FIELDS),
  is: fc.constantFrom("equal", "not-equal", "known", "unknown"),
  value: fc.constantFrom("lodge", "CA", "spa"),
});
const tree = fc.letrec<{ node: Condition }>((tie) => ({
  node: fc.oneof(
    { maxDepth: 4 },
    test,
    ...(["all", "any", "none"] as const).map((k) =>
      fc.array(tie("node"), { maxLength: 3 }).map((list) => ({ [k]: list }) as unknown as Condition),
    ),
  ),
})).node;

describe("what can still hold", () => {
  it("is sound: yes and no stay true whatever the unknown fields turn out to be", () => {
    const facts = fc.record({ product: value, country: value, tag: value, company: value });
    fc.assert(
      fc.property(tree, facts, fc.subarray([...FIELDS]), (condition, all, known) => {
        const read = (field: FieldKey) => all[field as (typeof FIELDS)[number]];
        const said = canHold(condition, (f) => (known.includes(f as never) ? read(f) : undefined));
        if (said !== "maybe") expect(evaluate(condition, read)).toBe(said === "yes");
      }),
    );
  });
  it("knows everything when everything is known", () => {
    const all = { product: "lodge", country: "CA" } as Record<string, FieldValue>;
    const both: Condition = {
      all: [
        { field: "product", is: "equal", value: "lodge" },
        { field: "country", is: "equal", value: "US" },
      ],
    };
    expect(canHold(both, (f) => all[f])).toBe("no");
    expect(canHold(null, () => undefined)).toBe("yes");
  });
});
