import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { evaluate, inWords, whyNot } from "./condition.ts";
import type { Condition, Facts, FieldValue } from "./tree.ts";

const facts: Facts = (field) =>
  (
    ({
      product: "lodge",
      country: "CA",
      value: 48_000,
      tag: ["partner", "spa"],
      phone: ["+15145550101"],
    }) as Record<string, FieldValue>
  )[field] ?? null;
const lodgeInCanada: Condition = {
  all: [
    { field: "product", is: "equal", value: "lodge" },
    {
      any: [
        { field: "country", is: "equal", value: "ca" },
        { field: "value", is: "at-least", value: 90_000 },
      ],
    },
  ],
};

describe("conditions", () => {
  it("hold over a tree, without regard to case", () => expect(evaluate(lodgeInCanada, facts)).toBe(true));
  it("are said as a sentence", () =>
    expect(inWords(lodgeInCanada)).toBe("product is lodge and (country is ca or value is at least 90000)"));
  it.each<[Condition, boolean]>([
    [{ field: "tag", is: "one-of", value: ["SPA", "x"] }, true],
    [{ field: "tag", is: "not-equal", value: "spa" }, false],
    [{ field: "message", is: "unknown" }, true],
    [{ field: "message", is: "contains", value: "" }, false],
    [{ field: "phone", is: "starts-with", value: "+1514" }, true],
    [{ field: "value", is: "at-most", value: 47_999 }, false],
    [{ any: [] }, false],
    [{ all: [] }, true],
    [{ none: [{ field: "product", is: "equal", value: "lodge" }] }, false],
  ])("%j is %s", (condition, holds) => expect(evaluate(condition, facts)).toBe(holds));
  it("name the part that failed and what was found", () => {
    expect(
      whyNot(
        {
          all: [
            { field: "country", is: "equal", value: "CA" },
            { field: "product", is: "equal", value: "plunge" },
          ],
        },
        facts,
      ),
    ).toBe("product is plunge, but it is lodge");
    expect(whyNot({ field: "company", is: "known" }, facts)).toBe("company is known, but it is not known");
  });
});

const test: fc.Arbitrary<Condition> = fc.record({
  field: fc.constantFrom("product", "country", "value", "tag", "message"),
  is: fc.constantFrom("equal", "not-equal", "contains", "known", "unknown", "at-least", "at-most"),
  value: fc.constantFrom("lodge", "CA", "spa", 48_000, 5),
});
const tree: fc.Arbitrary<Condition> = fc.letrec<{ node: Condition }>((tie) => ({
  node: fc.oneof(
    { maxDepth: 4 },
    test,
    ...(["all", "any", "none"] as const).map((k) =>
      fc.array(tie("node"), { maxLength: 3 }).map((list) => ({ [k]: list }) as unknown as Condition),
    ),
  ),
})).node;

describe("conditions, whatever the tree", () => {
  it("whyNot is silent exactly when the condition holds", () => {
    fc.assert(fc.property(tree, (c) => (whyNot(c, facts) === null) === evaluate(c, facts)));
  });
  it("none is the denial of any", () => {
    fc.assert(
      fc.property(
        fc.array(tree, { maxLength: 4 }),
        (list) => evaluate({ none: list }, facts) === !evaluate({ any: list }, facts),
      ),
    );
  });
});
