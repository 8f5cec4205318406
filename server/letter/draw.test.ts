import { readFileSync } from "node:fs";
import { join } from "node:path";
import { expect, it } from "vitest";
import { drawCharts, INKS } from "./draw.ts";

it("a letter's charts are drawn in the inks of the light theme", () => {
  const css = readFileSync(join(import.meta.dirname, "../../web/styles/tokens.css"), "utf8");
  const token = (name: string) => new RegExp(`${name}: (#[0-9a-f]{6});`).exec(css)?.[1];
  expect([INKS.ink, INKS.second, INKS.rule, INKS.tarn]).toEqual(
    ["--ink", "--ink-2", "--rule", "--tarn"].map(token),
  );
});

it("many names stand below one another, each with room; few and short ones side by side", async () => {
  const bars = (names: string[]) => ({
    kind: "bars" as const,
    said: "Inquiries",
    isShare: false,
    isStacked: false,
    names,
    series: [{ name: "this week", values: names.map((_, i) => (i === 1 ? null : i)) }],
  });
  const long = Array.from({ length: 12 }, (_, i) => `A source with a long name ${i}`);
  const heights = (await drawCharts([bars(["try 1", "try 2"]), bars(long), bars([])])).map((png) =>
    // PNG, 11.2.2: width and height stand in the header.
    [png.readUInt32BE(16), png.readUInt32BE(20)],
  );
  expect(heights).toEqual([
    [1280, 520],
    [1280, 2 * (96 + 12 * 26)],
    [1280, 520],
  ]);
});
