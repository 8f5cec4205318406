import { describe, expect, it } from "vitest";
import { questionSets, worksheets } from "../../demo/qualifying.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { NOBODY } from "../lead/blank.ts";
import { factsOf } from "../lead/fields.ts";
import type { Lead } from "../lead/lead.ts";
import { missingFor, scoreOf } from "../lead/qualify.ts";
import { asStages } from "../policy/before-stages.ts";
import type { Policies } from "../policy/setup.ts";
import { badReasons, closeReasons, stagesOf } from "../policy/stages.ts";
import type { Changed } from "./change.ts";
import { changeHooks } from "./change-hooks.ts";
import { changeQuestions, changeStages, type StagesChange } from "./change-stages.ts";
import { changeWorksheets } from "./change-worksheets.ts";

const { stages, reasons } = tarnholt.policies;
const none = { lead: {}, deal: {} };
const at = (changed: Changed) => (changed.ok ? null : changed.problem.errors?.[0]?.path);
const change = (more: Partial<StagesChange>, standing = none) =>
  changeStages(tarnholt, { stages, reasons, ...more }, standing);

describe("stages", () => {
  it("keep their key when they are renamed, and are found by either", () => {
    const renamed = change({
      stages: stages.map((s) => (s.key === "Talking" ? { ...s, name: "In talks" } : s)),
    });
    if (!renamed.ok) throw new Error(renamed.problem.detail);
    expect(stagesOf(renamed.setup.policies, "lead").map((s) => [s.key, s.name])[2]).toEqual([
      "Talking",
      "In talks",
    ]);
  });
  it("as they stand are no change", () => {
    const same = change({});
    expect(same.ok && same.setup).toEqual(tarnholt);
  });
  it("are known again however a program writes their keys, and keep what it leaves out", () => {
    const plain = stages.map(({ key, name, kind, asks }) => ({
      key: key.toLowerCase().replace(/ /g, "-"),
      name,
      kind,
      asks,
    }));
    const changed = change({ stages: plain });
    expect(changed.ok && changed.setup.policies.stages).toEqual(stages);
  });
  const without = (key: string) => stages.filter((s) => s.key !== key);
  const withAsk = (ask: string) => stages.map((s) => (s.key === "Qualified" ? { ...s, asks: [ask] } : s));
  it.each([
    [{ stages: without("New") }, none, "stages"],
    [{ stages: without("Qualified") }, { lead: { Qualified: 3 }, deal: {} }, "moves.Qualified"],
    [{ stages: without("Won"), moves: { Won: "Priced" } }, { lead: {}, deal: { Won: 1 } }, "moves.Won"],
    [{ stages: withAsk("shoe size") }, none, "stages.3.asks.0"],
    [
      { stages: [...stages, { key: "", name: "talking", kind: "open", of: "lead", asks: [] }] as never },
      none,
      "stages.11.name",
    ],
    [
      { stages: stages.map((s) => (s.key === "New" ? { ...s, kind: "lost" as const } : s)) },
      none,
      "stages.0.kind",
    ],
    [{ stages: stages.filter((s) => s.of === "lead") }, none, "stages"],
    [{ reasons: reasons.filter((r) => r.name !== "Never reached") }, none, "reasons"],
    [{ reasons: reasons.map((r) => ({ ...r, againMonths: 0 })) }, none, "reasons.0.againMonths"],
    [{ reasons: reasons.map((r) => ({ ...r, cadenceId: "nowhere" })) }, none, "reasons.0.cadenceId"],
  ])("%# is refused, naming the field", (more, standing, path) =>
    expect(at(change(more, standing))).toBe(path),
  );

  it("of before they had kinds are turned as they are read, and forgive what they forgave", () => {
    const before = {
      ...tarnholt.policies,
      stages: ["New", "Being tried", "Talking", "Visited"],
      closeReasons: ["Bought elsewhere", "Spam"],
      turns: { pass: "kept", lapse: "kept", badReasons: ["Spam"] },
      reasons: undefined,
    } as unknown as Policies;
    const now = asStages(before);
    expect(stagesOf(now, "lead").map((s) => s.key)).toEqual(["New", "Being tried", "Talking", "Visited"]);
    expect(closeReasons(now)).toEqual(["Bought elsewhere", "Spam"]);
    expect(badReasons(now)).toEqual(["Spam"]);
    expect(asStages(now)).toBe(now);
  });
});

describe("questions", () => {
  it("name what is missing for a stage, and give points whose make-up is told", () => {
    const needed = questionSets.map((s) => ({
      ...s,
      questions: s.questions.map((q) => ({
        ...q,
        requiredFor: q.key === "power" || q.key === "budget" ? "Qualified" : null,
      })),
    }));
    const changed = changeQuestions(tarnholt, needed);
    if (!changed.ok) throw new Error(changed.problem.detail);
    const { setup } = changed;
    const stage = setup.policies.stages.find((s) => s.key === "Qualified")!;
    const lead = {
      ...NOBODY,
      facts: { ...NOBODY.facts, product: "cabin", own: { power: "none", budget: 9_500 } },
    };
    const facts = (l: Lead) => factsOf(l, setup, 0);
    expect(missingFor(setup, lead, facts(lead), stage)).toEqual([]);
    const less = { ...lead, facts: { ...lead.facts, own: {} } };
    expect(missingFor(setup, less, facts(less), stage).map((m) => m.name)).toEqual([
      "Power at the site",
      "Budget",
    ]);
    // 20 for a cabin, −10 without power, 20 for a budget from 6,000.
    expect(scoreOf(setup, lead, facts(lead))).toMatchObject({
      points: 30,
      made: [{ points: 20 }, { points: -10 }, { points: 20 }],
    });
    expect(facts(lead)("score")).toBe(30);
    const lodge = { ...lead, facts: { ...lead.facts, product: "lodge" } };
    expect(scoreOf(setup, lodge, facts(lodge))?.points).toBe(0);
  });
  const [set] = questionSets as [(typeof questionSets)[number]];
  const withQuestion = (more: object) => [{ ...set, questions: [{ ...set.questions[0]!, ...more }] }];
  it.each([
    [withQuestion({ words: " " }), "questionSets.0.questions.0.words"],
    [withQuestion({ field: "worth" }), "questionSets.0.questions.0.field"],
    [withQuestion({ requiredFor: "nowhere" }), "questionSets.0.questions.0.requiredFor"],
    [withQuestion({ points: [{ points: 0.5 }] }), "questionSets.0.questions.0.points.0.points"],
    [[{ ...set, name: "" }], "questionSets.0.name"],
    [[{ ...set, when: { field: "own.nothing", is: "known" } }] as never, "questionSets.0.when"],
  ])("%# is refused, naming the field", (sets, path) =>
    expect(at(changeQuestions(tarnholt, sets))).toContain(path),
  );
});

describe("worksheets", () => {
  const [sheet] = worksheets as [(typeof worksheets)[number]];
  it("are a new version when they differ, and the same when they do not", () => {
    const same = changeWorksheets(tarnholt, worksheets);
    expect(same.ok && same.setup.policies.worksheets.map((w) => w.version)).toEqual([1, 1]);
    const other = changeWorksheets(tarnholt, [{ ...sheet, tax: "5" }, ...worksheets.slice(1)]);
    expect(other.ok && other.setup.policies.worksheets.map((w) => w.version)).toEqual([2, 1]);
  });
  const line = (more: object) => ({ ...sheet, lines: [{ ...sheet.lines[0]!, ...more }], total: "units" });
  it.each([
    [line({ formula: "price *" }), "worksheets.0.lines.0.formula"],
    [line({ formula: "later + 1" }), "worksheets.0.lines.0.formula"],
    [line({ key: "min" }), "worksheets.0.lines.0.key"],
    [line({ key: "price" }), "worksheets.0.lines.0.key"],
    [line({ roundTo: "0" }), "worksheets.0.lines.0.roundTo"],
    [{ ...sheet, total: "nothing" }, "worksheets.0.total"],
    [{ ...sheet, tax: "101" }, "worksheets.0.tax"],
    [{ ...sheet, validDays: 0 }, "worksheets.0.validDays"],
    [{ ...sheet, product: "boat" }, "worksheets.0.product"],
    [{ ...sheet, lines: [] }, "worksheets.0.lines"],
  ])("%# is refused, naming the field", (one, path) =>
    expect(at(changeWorksheets(tarnholt, [one]))).toBe(path),
  );
});

describe("other systems", () => {
  const hook = {
    id: "h",
    name: "Ledger",
    url: "https://x.example/in",
    events: ["deal.won"],
    on: true,
  } as const;
  it.each([
    [{ ...hook, name: " " }, "hooks.0.name"],
    [{ ...hook, url: "file:///etc/passwd" }, "hooks.0.url"],
    [{ ...hook, events: ["toString"] as never }, "hooks.0.events"],
  ])("%# is refused, naming the field", (one, path) => expect(at(changeHooks(tarnholt, [one]))).toBe(path));
});
