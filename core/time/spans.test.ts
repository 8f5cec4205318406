import fc from "fast-check";
import { expect, it } from "vitest";
import { type Span, tidy, without } from "./spans.ts";

const spans = fc.array(
  fc
    .tuple(fc.integer({ min: 0, max: 60 }), fc.integer({ min: 0, max: 12 }))
    .map(([from, long]): Span => ({ from, to: from + long })),
  { maxLength: 8 },
);
const covers = (list: readonly Span[], at: number) => list.some((s) => s.from <= at && at < s.to);

it("what is left is what was there and is in none of the others, minute by minute", () => {
  fc.assert(
    fc.property(spans, spans, (a, b) => {
      const left = without(a, b);
      for (let at = 0; at < 80; at++) expect(covers(left, at)).toBe(covers(a, at) && !covers(b, at));
    }),
  );
});
it("tidy spans are sorted, apart from each other, and cover the same", () => {
  fc.assert(
    fc.property(spans, (list) => {
      const clean = tidy(list);
      for (let i = 1; i < clean.length; i++) expect(clean[i]!.from).toBeGreaterThan(clean[i - 1]!.to);
      for (let at = 0; at < 80; at++) expect(covers(clean, at)).toBe(covers(list, at));
    }),
  );
});
