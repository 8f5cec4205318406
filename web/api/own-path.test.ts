import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { ownPath } from "./own-path.ts";

describe("where one goes after signing in", () => {
  it.each([
    ["/setup/bells?tab=2", "/setup/bells?tab=2"],
    ["/", "/"],
    [null, "/"],
    ["", "/"],
    ["https://elsewhere.example/", "/"],
    ["//elsewhere.example", "/"],
    ["/\t/elsewhere.example", "/"],
    ["/\n/elsewhere.example", "/"],
    ["/\\elsewhere.example", "/"],
    ["/.//elsewhere.example", "/"],
    ["/a\r\nset-cookie: x=1", "/aset-cookie:%20x=1"],
  ])("is never another site: %j", (wanted, to) => {
    expect(ownPath(wanted)).toBe(to);
  });

  it("is on this site and fit for a header, whatever is asked for", () => {
    const hostile = fc.string({ unit: fc.constantFrom(..."/\\\t\r\n.:@?#%aé~ ") });
    fc.assert(
      fc.property(hostile, (wanted) => {
        const to = ownPath(`/${wanted}`);
        expect(new URL(to, "https://desk.example").origin).toBe("https://desk.example");
        expect(() => new Headers({ location: to })).not.toThrow();
      }),
      { numRuns: 2_000 },
    );
  });
});
