import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { MemoryDesk } from "../desk/memory.ts";
import { receive } from "../desk/receive.ts";
import { understand } from "../intake/understand.ts";
import { mergeFields } from "./merge-fields.ts";
import { checkTemplate, merge } from "./template.ts";

const source = tarnholt.sources[0]!;
const understood = understand(source, tarnholt.policies, { name: "Ana Ruiz", phone: "303 555 0123" });
if (!understood.ok) throw new Error(understood.reason);
const decided = receive(new MemoryDesk(tarnholt, Date.parse("2026-03-04T16:00:00Z")).look(null), {
  inquiryId: "i",
  source,
  facts: understood.facts,
  matchedOn: null,
  by: { kind: "lead" },
  goesTo: { kind: "kept" },
});
if (!decided.ok) throw new Error(decided.problem.detail);
const ana = decided.plan.after;

describe("a template is checked", () => {
  it.each([
    ["Hi {{ lead.first_name }}", null],
    ["{% if owner %}{{ owner.name }}{% endif %}", null],
    ["{% assign who = lead.name %}{{ who | upcase }}", null],
    ["{{ lead.own.holding_back | default: 'nothing' }}", null],
    ["Hi\n  {{ lead.frist_name }}", [2, 6, /no field “lead\.frist_name”/]],
    ["{{ lead }}", [1, 4, /no field “lead”/]],
    ["{{ lead.own.nowhere }}", [1, 4, /no field/]],
    ["{{ lead.name | shout }}", [1, 1, /undefined filter: shout/i]],
    ["Hi\n{% if lead.name %}", [2, 1, /not closed/]],
    ["{% for x in lead %}{% endfor %}", [1, 1, /tag "for" not found/i]],
    ["{% include 'secrets' %}", [1, 1, /tag "include" not found/i]],
    ["{{ 'a' | append: }}", [1, 1, /./]],
    ["{{ lead.name", [1, 1, /not closed/]],
  ] as const)("%j", (written, fault) => {
    const faults = checkTemplate(written, tarnholt);
    if (fault === null) expect(faults).toEqual([]);
    else {
      expect(faults[0]).toMatchObject({ line: fault[0], column: fault[1] });
      expect(faults[0]!.message).toMatch(fault[2]);
    }
  });
  it("those of the demo are sound, in every language", () => {
    for (const template of tarnholt.policies.templates)
      for (const [language, { subject, body }] of Object.entries(template.texts))
        for (const piece of [subject ?? "", body])
          expect(checkTemplate(piece, tarnholt), `${template.id} ${language}`).toEqual([]);
  });
  it("every field of the menu can be used", () => {
    for (const { path } of mergeFields(tarnholt))
      expect(checkTemplate(`{{ ${path} }}`, tarnholt)).toEqual([]);
  });
});

describe("whatever is written as a template", () => {
  const pieces = fc.constantFrom(
    ..."{{ }} {% %} {%- -%} lead.name lead owner if endif else case when endcase assign x = | default: 'a' upcase truncate: 3 1 .. ( ) [ ] \" ' , : \n & unless endunless raw endraw capture endcapture comment endcomment for in (1..9999999) date: '%Y' split: '' replace: repeat".split(
      " ",
    ),
  );
  const written = fc.oneof(
    fc.string({ unit: "binary", maxLength: 60 }),
    fc.array(pieces, { maxLength: 14 }).map((words) => words.join(" ")),
  );
  it("either renders or has an error with its place", () => {
    fc.assert(
      fc.property(written, (template) => {
        const faults = checkTemplate(template, tarnholt);
        if (faults.length === 0) expect(typeof merge(template, tarnholt, ana)).toBe("string");
        for (const { message, line, column } of faults) {
          expect(message).not.toBe("");
          expect(line).toBeGreaterThanOrEqual(1);
          expect(line).toBeLessThanOrEqual(template.split("\n").length);
          expect(column).toBeGreaterThanOrEqual(1);
        }
      }),
      { numRuns: 2_000 },
    );
  });
});
