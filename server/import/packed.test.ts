import fc from "fast-check";
import { expect, it } from "vitest";
import { MemoryDesk } from "../../core/desk/memory.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { prepareLead } from "../engine/rows.ts";
import { FoundPairs, Packer, Unpacker, unpackPairs } from "./packed.ts";
import { decideRow } from "./take-row.ts";

const show = tarnholt.sources.find((s) => s.key === "garden-show")!;

/** A text as UTF-8 keeps it. */
const kept = (written: string) => Buffer.from(written).toString();

/** Any text, with what is longer in UTF-8 than it looks and what is no character on its own. */
const text = fc.string({ unit: fc.constantFrom("a", "é", "語", "🪁", "\n", "\u0000", '"', "\ud800") });
const row = fc.record({
  bad: fc.boolean(),
  name: text,
  message: text,
  phones: fc.uniqueArray(fc.constantFrom("+13035550100", "+13035550101", "+13035550102"), { maxLength: 2 }),
  emails: fc.uniqueArray(fc.constantFrom("ana.ruiz@example.com", "bo@example.org"), { maxLength: 2 }),
});

it("rows cross whole: whatever their texts are, each comes out as it was put in, at its place", () => {
  fc.assert(
    fc.property(fc.array(row, { maxLength: 12 }), (rows) => {
      const packer = new Packer();
      const world = new MemoryDesk(tarnholt, Date.parse("2026-03-04T16:00:00Z")).look(null);
      const put = rows.map(({ bad, name, message, phones, emails }, i) => {
        if (bad) {
          const one = { row: i + 1, cells: [name, message], reason: "nobody" };
          packer.bad(one);
          return { bad: one };
        }
        const facts = {
          name,
          message,
          phones,
          emails,
          company: null,
          product: null,
          value: null,
          postalCode: "80201",
          territory: null,
          zone: null,
          language: null,
          answers: {},
          tags: [],
        };
        const way = { importId: "imp_1", source: show, route: false };
        const decided = decideRow(world, way, { row: i + 1, facts }, null);
        if (!decided.ok) throw new Error(decided.problem.detail);
        const fresh = prepareLead(decided.plan);
        packer.good(i + 1, fresh);
        return { fresh };
      });
      const read = new Unpacker(structuredClone(packer.take()));
      expect(read.rows).toEqual(rows.map((_, i) => i + 1));
      put.forEach((one, i) => {
        if (one.bad) {
          expect(read.bad(i)).toEqual(one.bad);
          expect(read.values(i)).toEqual([]);
          return;
        }
        const { row: lead, events, claims } = one.fresh!;
        expect(read.bad(i)).toBeNull();
        expect(read.values(i)).toEqual(claims);
        // SQLite keeps UTF-8 too: half a character is kept as the sign for one that can't be read.
        expect(read.fresh(i)).toEqual({ row: { ...lead, search: kept(lead.search) }, events });
      });
    }),
  );
});

it("what leads are found by comes out in order, whole, and once", () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.nat(2_000), fc.nat(9)), { maxLength: 900 }), (pairs) => {
      const found = new FoundPairs();
      for (const [by, lead] of pairs) found.add(`lead_${lead}`, [`v${by}`], [`k${by}`, "same"]);
      const { values, keys } = found.take();
      const out = values.flatMap(unpackPairs);
      expect(out).toEqual([...out].sort(([a, x], [b, y]) => (`${a}\n${x}` < `${b}\n${y}` ? -1 : 1)));
      expect(out.map(String).sort()).toEqual(pairs.map(([by, lead]) => `v${by},lead_${lead}`).sort());
      expect(keys.flatMap(unpackPairs)).toHaveLength(pairs.length * 2);
      expect(found.take()).toEqual({ values: [], keys: [] });
    }),
  );
});
