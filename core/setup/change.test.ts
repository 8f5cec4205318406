import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import type { Template } from "../policy/answering.ts";
import {
  changeAlerts,
  changeCalls,
  changeReplies,
  changeRestraint,
  removeTemplate,
  saveTemplate,
  usesOf,
} from "./change.ts";

const { policies } = tarnholt;
const hello: Template = {
  id: "t",
  name: "Hello",
  channel: "text",
  texts: { en: { body: "Hi {{ lead.name }}" } },
};
const refused = (changed: { ok: boolean; problem?: { errors?: readonly { path: string }[] } }) =>
  changed.ok ? "changed" : (changed.problem?.errors?.[0]?.path ?? "refused");

describe("a template", () => {
  it("is added once and changed after that, by its id", () => {
    const added = saveTemplate(tarnholt, hello);
    if (!added.ok) throw new Error(added.problem.detail);
    expect(added.setup.policies.templates).toHaveLength(policies.templates.length + 1);
    const again = saveTemplate(added.setup, { ...hello, name: " Hello there " });
    expect(again.ok && again.setup.policies.templates.at(-1)?.name).toBe("Hello there");
    expect(again.ok && again.setup.policies.templates).toHaveLength(policies.templates.length + 1);
  });
  it.each([
    [{ ...hello, name: " " }, "name"],
    [{ ...hello, name: "first reply, TEXT" }, "name"],
    [{ ...hello, texts: { fr: { body: "Bonjour" } } }, "texts.en.body"],
    [{ ...hello, texts: { en: { body: "Hi" }, fr: { body: "{{ lead.nom }}" } } }, "texts.fr.body"],
    [
      { ...hello, channel: "email" as const, texts: { en: { subject: "{% if %}", body: "Hi" } } },
      "texts.en.subject",
    ],
  ])("is refused at its place: %j", (template, path) =>
    expect(refused(saveTemplate(tarnholt, template))).toBe(path),
  );
  it("is removed only when nothing uses it", () => {
    expect(usesOf(tarnholt, "again-text")).toEqual(["answer to a repeat by text"]);
    expect(refused(removeTemplate(tarnholt, "again-text"))).toBe("refused");
    expect(removeTemplate(tarnholt, "missed-you").ok).toBe(true);
    expect(refused(removeTemplate(tarnholt, "nothing"))).toBe("refused");
  });
});

describe("replies", () => {
  const { usual, again } = policies.replies;
  const change = { usual, again, sources: {} };
  it("of a source go their own way and back to the usual one", () => {
    const own = changeReplies(tarnholt, { ...change, sources: { src_site: usual } });
    if (!own.ok) throw new Error(own.problem.detail);
    expect(own.setup.sources[0]!.reply).toEqual(usual);
    const back = changeReplies(own.setup, { ...change, sources: { src_site: null } });
    expect(back.ok && "reply" in back.setup.sources[0]!).toBe(false);
  });
  it.each([
    [{ ...change, usual: { ...usual, text: { ...usual.text, choices: [] } } }, "usual.text"],
    [{ ...change, usual: { ...usual, text: usual.email } }, "usual.text.choices.0"],
    [{ ...change, again: { ...again, email: "again-text" } }, "again.email"],
    [
      {
        ...change,
        sources: {
          src_site: { ...usual, email: { ...usual.email, choices: [{ when: null, templateId: "x" }] } },
        },
      },
      "sources.src_site.email.choices.0",
    ],
  ])("are refused at their place %#", (wrong, path) =>
    expect(refused(changeReplies(tarnholt, wrong))).toBe(path),
  );
});

describe("restraint", () => {
  const { restraint } = policies;
  it.each([
    [{ ...restraint, allowed: { from: "21:00", to: "08:00" } }, "allowed.to"],
    [{ ...restraint, words: { ...restraint.words, stop: [] } }, "words.stop"],
    [
      { ...restraint, answers: { ...restraint.answers, help: { en: "{{ company.motto }}" } } },
      "answers.help.en",
    ],
  ])("always leaves a way out %#", (wrong, path) =>
    expect(refused(changeRestraint(tarnholt, wrong))).toBe(path),
  );
});

describe("outcomes", () => {
  const { outcomes, booking } = policies;
  const next = { kind: "call" as const, note: "Again", days: 1 };
  it("get a key from their name, and keep it when they are renamed", () => {
    const added = { key: "", name: "Left with a colleague", reached: false, next };
    const changed = changeCalls(tarnholt, { outcomes: [...outcomes, added], booking });
    expect(changed.ok && changed.setup.policies.outcomes.at(-1)).toMatchObject({
      key: "left-with-a-colleague",
    });
    const renamed = outcomes.map((o) => (o.key === "busy" ? { ...o, name: "Engaged" } : o));
    const after = changeCalls(tarnholt, { outcomes: renamed, booking });
    expect(after.ok && after.setup.policies.outcomes.find((o) => o.key === "busy")?.name).toBe("Engaged");
  });
  it.each([
    [[...outcomes, { key: "", name: "", reached: false, next }], "outcomes.7.name"],
    [[...outcomes, { key: "", name: "Busy", reached: false, next }], "outcomes.7.name"],
    [outcomes.filter((o) => o.key !== "sent"), "outcomes"],
    [outcomes.map((o) => ({ ...o, reached: false })), "outcomes"],
  ])("are refused at their place %#", (wrong, path) =>
    expect(refused(changeCalls(tarnholt, { outcomes: wrong, booking }))).toBe(path),
  );
  it("are not booked with somebody who is not here", () =>
    expect(refused(changeCalls(tarnholt, { outcomes, booking: { ...booking, people: ["p_gone"] } }))).toBe(
      "booking.people",
    ));
});

describe("alerts", () => {
  it("that a bell depends on reach somebody by more than a browser", () => {
    expect(refused(changeAlerts(tarnholt, null, { ...policies.alerts, ring: ["browser"] }))).toBe(
      "matrix.ring",
    );
    expect(refused(changeAlerts(tarnholt, null, { ...policies.alerts, "hand-off": [] }))).toBe(
      "matrix.hand-off",
    );
    expect(changeAlerts(tarnholt, null, { ...policies.alerts, gone: [] }).ok).toBe(true);
  });
  it("are one person's own, and of things that exist", () => {
    const changed = changeAlerts(tarnholt, "p_luc", { reply: ["email"] });
    expect(changed.ok && changed.setup.people.find((p) => p.id === "p_luc")?.alerts).toEqual({
      reply: ["email"],
    });
    expect(refused(changeAlerts(tarnholt, "p_luc", { nonsense: ["email"] }))).toBe("matrix.nonsense");
    expect(refused(changeAlerts(tarnholt, "p_gone", {}))).toBe("personId");
  });
});
