import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { MemoryDesk } from "../desk/memory.ts";
import { receive } from "../desk/receive.ts";
import { understand } from "../intake/understand.ts";
import type { Lead } from "../lead/lead.ts";
import { asItLeaves, brief, card, HEADINGS } from "./cards.ts";
import { renderTemplate, wants } from "./template.ts";

function lead(fields: Record<string, string>): Lead {
  const desk = new MemoryDesk(tarnholt, Date.parse("2026-03-04T16:00:00Z"));
  const source = tarnholt.sources[0]!;
  const understood = understand(source, tarnholt.policies, { phone: "303 555 0123", ...fields });
  if (!understood.ok) throw new Error(understood.reason);
  const decided = receive(desk.look(null), {
    inquiryId: "i",
    source,
    facts: understood.facts,
    matchedOn: null,
    by: { kind: "lead" },
    goesTo: { kind: "rules" },
  });
  if (!decided.ok) throw new Error(decided.problem.detail);
  return decided.plan.after;
}
const [email, text] = tarnholt.policies.templates;

describe("templates", () => {
  it("fill in who and what, and do without what is missing", () => {
    const full = renderTemplate(
      email!,
      tarnholt,
      lead({ name: "ANA RUIZ", product: "plunge", message: "How loud?" }),
    );
    expect(full.subject).toBe("Ana, about your plunge tub");
    expect(full.body).toContain('You wrote: "How loud?"');
    const bare = renderTemplate(email!, tarnholt, lead({}));
    expect(bare.subject).toBe("Hello, about your sauna or tub");
    expect(bare.body).toMatch(/^Hi there,/);
    expect(bare.body).not.toContain("You wrote");
  });
  it("speak the lead's language, English where there is no other", () => {
    expect(renderTemplate(text!, tarnholt, lead({ name: "Luc", phone: "418 555 0100" })).body).toMatch(
      /^Bonjour Luc/,
    );
    expect(renderTemplate(text!, tarnholt, lead({ name: "Luz", language: "es" })).body).toMatch(/^Hola Luz/);
    expect(renderTemplate(text!, tarnholt, lead({ name: "Jan", language: "nl" })).body).toMatch(/^Hi Jan/);
  });
  it("do not run what somebody wrote into a form", () => {
    const { body } = renderTemplate(
      email!,
      tarnholt,
      lead({ name: "{{ company.email }}", message: "{% if true %}x{% endif %}" }),
    );
    expect(body).toContain("{% if true %}x{% endif %}");
  });
  it("refuse a filter that does not exist", () => {
    const wrong = { ...text!, texts: { en: { body: "{{ lead.name | shout }}" } } };
    expect(() => renderTemplate(wrong, tarnholt, lead({}))).toThrow(/shout/);
  });
});

describe("cards", () => {
  const ana = lead({
    name: "Ana Ruiz",
    email: "ana@example.com",
    product: "barrel",
    message: "Fits a deck?",
    postal_code: "80202",
  });
  it("say the same facts in the same order", () => {
    const now = Date.parse("2026-03-04T16:00:00Z");
    const said = (at: number) =>
      asItLeaves(card(tarnholt, ana, "A heading"), "America/Denver", at).split("\n");
    expect(said(now)).toEqual([
      "*A heading*",
      "Wants: Barrel sauna, “Fits a deck?”",
      "Reach: (303) 555-0123 · ana@example.com",
      "Where: High Plains, 80202",
      "From: Website: plan your sauna",
      "Call before 09:05 MST",
      "{link}",
    ]);
    // Five minutes late nobody is told to call before a time gone by.
    expect(said(now + 5 * 60_000)[5]).toBe("Rang at 09:05 MST: call now");
    expect(said(now + 86_400_000)[5]).toBe("Rang at Wed 4 Mar 09:05 MST: call now");
  });
  it("fit a short text, link apart", () => {
    const said = brief(tarnholt, ana, "Offered to you");
    expect(said).toBe("Offered to you: Ana Ruiz, barrel sauna, (303) 555-0123. {link}");
    expect(said.length).toBeLessThan(160);
  });
  it("cut a long message, not a short one", () => {
    expect(wants(tarnholt, lead({ message: "x".repeat(200) }))).toHaveLength(90);
    expect(wants(tarnholt, lead({}))).toBe("interest not stated");
  });
  it("have a heading for everything one can be told", () => {
    for (const heading of Object.values(HEADINGS)) expect(heading(ana, tarnholt)).toContain("Ana Ruiz");
    for (const heading of Object.values(HEADINGS))
      expect(heading(lead({}), tarnholt)).toContain("(303) 555-0123");
  });
});
