import { describe, expect, it } from "vitest";
import { worksheets } from "../../demo/qualifying.ts";
import type { Worksheet } from "../policy/worksheet.ts";
import { readDecimal, workOut } from "./reckon.ts";

const [sauna] = worksheets as [Worksheet];

describe("a worksheet", () => {
  it("adds up: what is shown comes to the price, and tax is taken of it", () => {
    const result = workOut(
      sauna,
      { price: "6,800", pieces: 2, miles: 190, discount: "5", extras: "$120" },
      "USD",
    );
    if (!result.ok) throw new Error(JSON.stringify(result.faults));
    const shown = result.lines.filter((l) => l.shown).map((l) => [l.key, l.amount / 100]);
    // By hand: 13,600 + 120; 5 % of 13,720 off; 250 + 140 × 3.40 = 726, in fives 725.
    expect(shown).toEqual([
      ["units", 13_600],
      ["more", 120],
      ["less", -686],
      ["delivery", 725],
    ]);
    expect(result.net).toBe(1_375_900);
    expect(result.net).toBe(result.lines.filter((l) => l.shown).reduce((sum, l) => sum + l.amount, 0));
    // 4.81 % of 13,759 is 661.8079.
    expect([result.tax, result.total]).toEqual([66_181, 1_442_081]);
  });

  it("names each input that is missing or no number, and each line that can’t be reckoned", () => {
    const bare = { ...sauna, inputs: sauna.inputs.map(({ usual: _usual, ...input }) => input) };
    const missing = workOut(bare, { price: "lots", pieces: 1, miles: 1, discount: 0 }, "USD");
    expect(missing.ok ? [] : missing.faults.map((f) => f.path)).toEqual(["inputs.price", "inputs.extras"]);
    const broken = workOut(
      { ...sauna, lines: [{ key: "x", name: "X", formula: "price / (pieces - 1)", shown: true }] },
      { pieces: 1 },
      "USD",
    );
    expect(broken.ok ? [] : broken.faults).toEqual([
      { path: "lines.x", message: "X: It divides by nothing.", at: 6 },
    ]);
  });

  it.each([
    ["140,000", "140000"],
    ["$ 1 200.50", "1200.5"],
    ["65%", "65"],
    ["1,20", null],
    ["12abc", null],
  ])("reads %s as %s", (text, value) => expect(readDecimal(text)?.toString() ?? null).toBe(value));
});
