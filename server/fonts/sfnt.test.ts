import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { describe, expect, it } from "vitest";
import { unpackWoff } from "./sfnt.ts";

describe("a font packed for the web", () => {
  it("unpacks to tables whose sums are as its directory says", () => {
    const name =
      "@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff";
    const sfnt = unpackWoff(readFileSync(createRequire(import.meta.url).resolve(name)));
    const count = sfnt.readUInt16BE(4);
    expect(count).toBeGreaterThan(8);
    for (let i = 0; i < count; i++) {
      const at = 12 + i * 16;
      const [sum, offset, length] = [4, 8, 12].map((n) => sfnt.readUInt32BE(at + n)) as [
        number,
        number,
        number,
      ];
      if (sfnt.toString("latin1", at, at + 4) === "head") continue;
      // OpenType: the sum of a table's longs, padded with zeros.
      let total = 0;
      for (let b = 0; b < length; b += 4) total = (total + (sfnt.readUInt32BE(offset + b) ?? 0)) >>> 0;
      expect(total).toBe(sum);
    }
    expect(() => unpackWoff(Buffer.from("wOF2 and more"))).toThrow("no WOFF");
  });
});
