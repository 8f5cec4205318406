import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { linksIn } from "./links.ts";
import { unlinked } from "./outside-words.ts";

describe("words from outside", () => {
  it.each([
    ["Would it fit a deck of 3.5 by 4 m?", "Would it fit a deck of 3.5 by 4 m?"],
    ["See https://evil.example/login now", "See [link] now"],
    ["(www.evil.example)", "[link]"],
    ["go to evil.example/login", "go to [link]"],
    ["go to evil.example", "go to evil. example"],
    ["call me at 10:30, e.g. Monday", "call me at 10:30, e.g. Monday"],
    ["javascript:alert(1)", "javascript:alert(1)"],
    ["ana@evil.example", "ana@evil. example"],
    ["two\nlines\tkept", "two\nlines\tkept"],
  ])("%j becomes %j", (written, sent) => {
    expect(unlinked(written)).toBe(sent);
  });

  it("hold no link that we or a mail program would make, whatever is written", () => {
    const part = fc.constantFrom(
      "http",
      "https",
      "://",
      "www.",
      "evil",
      ".",
      "com",
      "/",
      "a",
      " ",
      "\n",
      "é",
      "?",
      "(",
      "@",
    );
    fc.assert(
      fc.property(fc.array(part, { maxLength: 40 }), (parts) => {
        const sent = unlinked(parts.join(""));
        expect(linksIn(sent)).toEqual([]);
        expect(sent).not.toMatch(/\bwww\.\p{L}/iu);
        expect(sent).not.toMatch(/[\p{L}\d]\.(com|evil)\b/u);
      }),
      { numRuns: 5_000 },
    );
  });
});
