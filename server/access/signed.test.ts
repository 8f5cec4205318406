import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Signed } from "./signed.ts";

/** What stands in links that make somebody a user, or confirm an address. */

const ours = new Signed("a secret of ours");
const says = fc.array(fc.oneof(fc.string(), fc.integer()), { maxLength: 4 });

describe("a signed token", () => {
  it("says what was put in, for its purpose and its secret alone", () => {
    fc.assert(
      fc.property(says, (said) => {
        const token = ours.token("join", said);
        expect(ours.read("join", token)).toEqual(said);
        expect(ours.read("confirm", token)).toBeNull();
        expect(new Signed("another").read("join", token)).toBeNull();
      }),
    );
  });
  it("stands in an address as it is", () => {
    fc.assert(fc.property(says, (said) => /^[\w.-]+$/.test(ours.token("join", said))));
  });
  it("is worth nothing once a letter of it is another, or a part is missing", () => {
    fc.assert(
      fc.property(says, fc.nat(), (said, n) => {
        const token = ours.token("join", said);
        const at = n % token.length;
        const other = token[at] === "A" ? "B" : "A";
        const spoiled = token.slice(0, at) + other + token.slice(at + 1);
        // The last letter of a signature has bits that say nothing: another letter may be the same signature.
        if (at < token.length - 1) expect(ours.read("join", spoiled)).toBeNull();
        expect(ours.read("join", token.slice(0, -1))).toBeNull();
      }),
    );
  });
  it("made of any text is refused without a fault", () => {
    fc.assert(fc.property(fc.string(), (text) => ours.read("join", text) === null));
    for (const text of ["", ".", "..", "a.b.c", `${"x".repeat(100_000)}.y`])
      expect(ours.read("join", text)).toBeNull();
  });
});
