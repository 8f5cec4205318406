import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { tarnholt } from "../../demo/tarnholt.ts";
import { askName, askOf } from "../policy/asks.ts";
import type { Points, Question, QuestionSet } from "../policy/questions.ts";
import type { Setup } from "../policy/setup.ts";
import { named, openStage, reasonsOf, stageName, stagesOf } from "../policy/stages.ts";
import { NOBODY } from "./blank.ts";
import { factsOf } from "./fields.ts";
import type { Lead } from "./lead.ts";
import { answerTo, askedIn, asksFor, missingFor, scoreOf, setsFor } from "./qualify.ts";

/** What is asked of a lead, what is missing of it, and what answers are worth. */

const lead = (facts: Partial<Lead["facts"]>, more: Partial<Lead> = {}): Lead => ({
  ...NOBODY,
  ...more,
  facts: { ...NOBODY.facts, ...facts },
});
const question = (key: string, more: Partial<Question> = {}): Question => ({
  key,
  words: `${key}?`,
  field: `own.${key}`,
  help: "",
  points: [],
  ...more,
});
const withSets = (...questionSets: QuestionSet[]): Setup => ({
  ...tarnholt,
  policies: { ...tarnholt.policies, questionSets },
});
const set = (questions: Question[], more: Partial<QuestionSet> = {}): QuestionSet => ({
  id: "qs",
  name: "A set",
  when: null,
  questions,
  ...more,
});
const known = (of: Lead, setup: Setup) => factsOf(of, setup, 0);
const qualified = stagesOf(tarnholt.policies, "lead").find((s) => s.key === "Qualified")!;

describe("an answer", () => {
  it.each([
    ["own.power", lead({ own: { power: "240 V there" } }), "240 V there"],
    ["own.extras", lead({ own: { extras: ["cover", "steps"] } }), ["cover", "steps"]],
    ["own.fits", lead({ own: { fits: false } }), "no"],
    ["answer.holding_back", lead({ answers: { holding_back: "the price" } }), "the price"],
    ["postal_code", lead({ postalCode: "80301" }), "80301"],
    ["email", lead({}, { emails: ["a@b.example"] }), ["a@b.example"]],
    ["company", lead({}, { company: "Rask Inns" }), "Rask Inns"],
    ["preferred", lead({ preferred: "text" }), "text"],
  ] as const)("to %s is the fact where it stands", (ask, of, answer) => {
    expect(answerTo(of, ask)).toEqual(answer);
    expect(answerTo(NOBODY, ask)).toBeNull();
  });
  it.each([
    ["own.power", lead({ own: { power: "" } })],
    ["own.extras", lead({ own: { extras: [] } })],
    ["answer.holding_back", lead({ answers: { holding_back: "" } })],
    ["company", lead({}, { company: "" })],
  ] as const)("to %s is none while nothing stands there", (ask, of) => expect(answerTo(of, ask)).toBeNull());
  it.each(["own.constructor", "own.__proto__", "answer.toString", "answer.__proto__"] as const)(
    "to %s is none: only what somebody has answered is",
    (ask) => expect(answerTo(lead({ own: {}, answers: {} }), ask)).toBeNull(),
  );
});

describe("what a stage asks for", () => {
  it("is what it names itself and what questions are required for, each once", () => {
    const setup = withSets(
      set([
        question("power", { requiredFor: "Qualified" }),
        question("budget", { requiredFor: "Qualified" }),
        question("footprint"),
        question("product", { field: "product", requiredFor: "Talking" }),
      ]),
    );
    const stage = { ...qualified, asks: ["power", "postal-code", "company"] };
    const of = lead({ own: { budget: 9000 } });
    expect(asksFor(setup, known(of, setup), stage)).toEqual([
      "own.power",
      "postal_code",
      "company",
      "own.budget",
    ]);
    expect(missingFor(setup, of, known(of, setup), stage)).toEqual([
      { field: "own.power", name: "Power at the site" },
      { field: "postal_code", name: askName(tarnholt.policies, "postal_code") },
      { field: "company", name: askName(tarnholt.policies, "company") },
    ]);
  });
  it("leaves out what only deals know, and follow-ups nobody’s answer calls for", () => {
    const follow = question("wood", {
      field: "own.extras",
      requiredFor: "Qualified",
      when: { field: "own.power", is: "equal", value: "none" },
    });
    const setup = withSets(set([follow], { when: { field: "product", is: "equal", value: "barrel" } }));
    const stage = { ...qualified, asks: ["estimate", "worth"] };
    const asks = (of: Lead) => asksFor(setup, known(of, setup), stage);
    expect(asks(lead({ product: "barrel" }))).toEqual([]);
    expect(asks(lead({ product: "barrel", own: { power: "none" } }))).toEqual(["own.extras"]);
    expect(asks(lead({ product: "lodge", own: { power: "none" } }))).toEqual([]);
  });
});

describe("points", () => {
  const points: Points[] = [
    { points: 30, atLeast: 12_000 },
    { points: 20, atLeast: 6_000 },
    { points: -10, atMost: 2_499 },
  ];
  const setup = withSets(set([question("budget", { points })]));
  const scored = (budget: number | undefined) => {
    const of = lead({ own: budget === undefined ? {} : { budget } });
    return scoreOf(setup, of, known(of, setup));
  };
  it.each([
    [12_000, 30],
    [11_999, 20],
    [6_000, 20],
    [2_499, -10],
    [0, -10],
  ])("for %d are %d: the first of the bounds it is within", (budget, given) =>
    expect(scored(budget)).toMatchObject({
      points: given,
      made: [{ answer: String(budget), points: given }],
    }),
  );
  it("are none between the bounds, and none before it is answered", () => {
    expect(scored(3_000)).toEqual({ points: 0, made: [] });
    expect(scored(undefined)).toEqual({ points: 0, made: [] });
  });
  it("are no score at all where no question gives any", () => {
    const plain = withSets(set([question("budget")]));
    expect(scoreOf(plain, NOBODY, known(NOBODY, plain))).toBeNull();
    const others = withSets(
      set([question("budget", { points })], { when: { field: "product", is: "equal", value: "lodge" } }),
    );
    const of = lead({ product: "barrel", own: { budget: 20_000 } });
    expect(scoreOf(others, of, known(of, others))).toBeNull();
  });
  it("of words do not mind how they are written, nor how many are chosen", () => {
    const extras = withSets(set([question("extras", { points: [{ points: 7, is: ["Cover", " steps "] }] })]));
    for (const chosen of [["cover"], ["lights", "STEPS"]]) {
      const of = lead({ own: { extras: chosen } });
      expect(scoreOf(extras, of, known(of, extras))?.points).toBe(7);
    }
    const of = lead({ own: { extras: ["lights"] } });
    expect(scoreOf(extras, of, known(of, extras))?.points).toBe(0);
  });

  const anyPoints = fc.array(
    fc.record({ points: fc.integer({ min: -50, max: 50 }), atLeast: fc.integer({ min: 0, max: 9 }) }),
    { maxLength: 3 },
  );
  const KEYS = ["budget", "units"] as const;
  const anySets = fc.array(
    fc.record({
      when: fc.constantFrom(null, { field: "product", is: "equal", value: "barrel" } as const),
      questions: fc.array(fc.record({ key: fc.constantFrom(...KEYS), points: anyPoints }), { maxLength: 3 }),
    }),
    { maxLength: 3 },
  );
  it("sum up what the first asking of each fact gives, whatever the sets: a plain recount agrees", () => {
    fc.assert(
      fc.property(
        anySets,
        fc.constantFrom("barrel", "lodge"),
        fc.record(
          { budget: fc.integer({ min: 0, max: 9 }), units: fc.integer({ min: 0, max: 9 }) },
          { requiredKeys: [] },
        ),
        (sets, product, own) => {
          const any = withSets(
            ...sets.map((s, i) =>
              set(
                s.questions.map((q) => question(q.key, { points: q.points })),
                { id: `q${i}`, when: s.when },
              ),
            ),
          );
          const of = lead({ product, own });
          const score = scoreOf(any, of, known(of, any));
          const asked = sets.filter((s) => !s.when || product === "barrel").flatMap((s) => s.questions);
          let sum = 0;
          for (const key of KEYS) {
            const value = own[key];
            const given = asked
              .filter((q) => q.key === key)
              .map((q) => q.points.find((p) => value !== undefined && value >= p.atLeast)?.points)
              .find((p) => p !== undefined);
            sum += given ?? 0;
          }
          expect(score?.points ?? 0).toBe(sum);
          expect(score === null).toBe(asked.every((q) => q.points.length === 0));
          expect(score?.made.reduce((all, m) => all + m.points, 0) ?? 0).toBe(sum);
        },
      ),
      { numRuns: 300 },
    );
  });
});

describe("the sets of a lead", () => {
  it("are those whose condition holds, with the follow-ups its answers call for", () => {
    const of = (product: string | null, own: Lead["facts"]["own"] = {}) => {
      const facts = known(lead({ product, own }), tarnholt);
      return setsFor(tarnholt, facts).map((s) => [s.id, askedIn(s, facts).some((q) => q.key === "wood")]);
    };
    expect(of("barrel")).toEqual([["qs_home", false]]);
    expect(of("barrel", { power: "none" })).toEqual([["qs_home", true]]);
    expect(of("lodge")).toEqual([["qs_lodge", false]]);
    expect(of(null)).toEqual([["qs_first", false]]);
  });
});

describe("what can be asked for", () => {
  it.each([
    ["power", "own.power", "Power at the site"],
    ["own.power", "own.power", "Power at the site"],
    ["postal-code", "postal_code", "Postal code"],
    ["expectedOn", "expectedOn", "Expected date"],
    ["answer.which_wood", "answer.which_wood", "answer to which wood"],
  ])("%s is %s, called %s", (field, ask, name) => {
    expect(askOf(tarnholt.policies, field)).toBe(ask);
    expect(askName(tarnholt.policies, ask).toLowerCase()).toBe(name.toLowerCase());
  });
  it.each(["shoe size", "constructor", "__proto__", "first_name", "own.", "toString", ""])(
    "“%s” is nothing",
    (field) => expect(askOf(tarnholt.policies, field)).toBeNull(),
  );
});

describe("stages and reasons by name", () => {
  const list = [
    openStage("Being tried", "lead"),
    { ...openStage("b", "lead"), name: "Being  Tried" },
    openStage("C", "deal"),
  ];
  it("go by the key first, then by the name, however it is written", () => {
    expect(named(list, "Being tried")).toBe(list[0]);
    expect(named(list, "b")).toBe(list[1]);
    expect(named(list, "being_tried")).toBe(list[0]);
    expect(named(list, " c ")).toBe(list[2]);
    expect(named(list, "nothing")).toBeUndefined();
  });
  it("belong to leads, to deals, or to both", () => {
    const { of: _, ...both } = openStage("Both", "lead");
    const stages = [...list, both];
    expect(stagesOf({ stages }, "lead").map((s) => s.key)).toEqual(["Being tried", "b", "Both"]);
    expect(stagesOf({ stages }, "deal").map((s) => s.key)).toEqual(["C", "Both"]);
    expect(stageName({ stages }, "b")).toBe("Being  Tried");
    expect(stageName({ stages }, "gone long ago")).toBe("gone long ago");
    const reasons = [{ key: "x", name: "X", kind: "lost" as const }];
    expect([reasonsOf({ reasons }, "lead"), reasonsOf({ reasons }, "deal")]).toEqual([reasons, reasons]);
  });
});
