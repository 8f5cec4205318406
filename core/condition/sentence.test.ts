import fc from "fast-check";
import { Engine, type NestedCondition, type TopLevelCondition } from "json-rules-engine";
import { describe, expect, it } from "vitest";
import { evaluate, inWords, type Test, whyNot } from "./condition.ts";
import { canEverHold } from "./ever.ts";
import type { Condition, Facts, FieldKey, FieldType, FieldValue } from "./tree.ts";

/** Trees and leads over fields of every type. Words are single and small, so that sentences can be read back. */
const TYPES: Partial<Record<FieldKey, FieldType>> = {
  product: "choice",
  value: "number",
  "came-before": "yes-no",
  "first-came": "date",
  "time-of-day": "time",
  tag: "choices",
  message: "text",
};
const words = ["lodge", "spa", "tub"];
const dates = ["2026-03-01", "2026-03-04", "2026-04-01"];
const times = ["00:00", "08:00", "17:30", "23:00"];
const of = (field: FieldKey, is: Test["is"][], value: fc.Arbitrary<Test["value"]>) =>
  fc.record({ field: fc.constant(field), is: fc.constantFrom(...is), value });
const some = fc.subarray(words, { minLength: 1 });
const test: fc.Arbitrary<Test> = fc.oneof(
  of("product", ["equal", "not-equal", "known", "unknown"], fc.constantFrom(...words)),
  of("product", ["one-of"], some),
  of(
    "value",
    ["at-least", "at-most", "equal", "not-equal", "known", "unknown"],
    fc.integer({ min: 0, max: 4 }),
  ),
  of("came-before", ["equal"], fc.constantFrom("yes", "no")),
  of("first-came", ["from", "before", "known", "unknown"], fc.constantFrom(...dates)),
  of(
    "time-of-day",
    ["between"],
    fc.tuple(fc.constantFrom(...times), fc.constantFrom(...times)).map((t) => [...t]),
  ),
  of("tag", ["equal", "not-equal", "known", "unknown"], fc.constantFrom(...words)),
  of("tag", ["one-of"], some),
  of("message", ["contains", "starts-with", "equal", "not-equal"], fc.constantFrom("l", "lo", "tub")),
);
const tree: fc.Arbitrary<Condition> = fc.letrec<{ node: Condition }>((tie) => ({
  node: fc.oneof(
    { maxDepth: 4, withCrossShrink: true },
    test as fc.Arbitrary<Condition>,
    ...(["all", "any", "none"] as const).map((k) =>
      fc
        .array(tie("node"), { minLength: 1, maxLength: 3 })
        .map((list) => ({ [k]: list }) as unknown as Condition),
    ),
  ),
})).node;
const leads = fc.record({
  product: fc.constantFrom<FieldValue>(...words, "other", null),
  value: fc.constantFrom<FieldValue>(0, 1, 2, 3, 4, 5, null),
  "came-before": fc.constantFrom<FieldValue>("yes", "no"),
  "first-came": fc.constantFrom<FieldValue>(...dates, "2026-03-02", null),
  "time-of-day": fc.constantFrom<FieldValue>(...times, "08:01", "12:00"),
  tag: fc.subarray(words),
  message: fc.constantFrom<FieldValue>("lodge", "tub", "l", "hello", null),
});
type LeadFacts = typeof leads extends fc.Arbitrary<infer T> ? T : never;
const factsOf =
  (lead: LeadFacts): Facts =>
  (field) =>
    lead[field as keyof LeadFacts];

/** Whether one question holds, written down a second time from what the words mean. */
function plainly({ field, is, value }: Test, answer: FieldValue): boolean {
  const have = (Array.isArray(answer) ? answer : answer === null || answer === "" ? [] : [answer]) as (
    | string
    | number
  )[];
  const want = (Array.isArray(value) ? value : [value]).map(String);
  if (is === "known") return have.length > 0;
  if (is === "unknown") return have.length === 0;
  if (is === "not-equal") return have.every((h) => String(h) !== want[0]);
  return have.some((h) => {
    if (is === "equal" || is === "one-of") return want.includes(String(h));
    if (is === "at-least") return (h as number) >= Number(value);
    if (is === "at-most") return (h as number) <= Number(value);
    if (is === "from") return Date.parse(String(h)) >= Date.parse(want[0]!);
    if (is === "before") return Date.parse(String(h)) < Date.parse(want[0]!);
    if (is === "contains") return String(h).includes(want[0]!);
    if (is === "starts-with") return String(h).startsWith(want[0]!);
    const minute = (t: string) => Number(t.slice(0, 2)) * 60 + Number(t.slice(3));
    const [from, to, at] = [minute(want[0]!), minute(want[1]!), minute(String(h))];
    return from <= to ? from <= at && at < to : at >= from || at < to;
  }, field);
}

/** Reads a sentence back to a tree, so that what it says can be held against what it means. */
function readBack(sentence: string): Condition {
  let rest = sentence;
  const eat = (word: string) => {
    if (!rest.startsWith(word)) return false;
    rest = rest.slice(word.length);
    return true;
  };
  const one = (): Condition => {
    if (eat("(")) {
      const inner = group();
      if (!eat(")")) throw new Error(`no end: ${rest}`);
      return inner;
    }
    const [whole] = /^.+?(?= and (?!\d\d:)| or |; |\)|$)/.exec(rest)!;
    rest = rest.slice(whole.length);
    return question(whole);
  };
  const group = (): Condition => {
    if (eat("none of: ")) {
      const list = [one()];
      while (eat("; ")) list.push(one());
      return { none: list };
    }
    const list = [one()];
    const word = rest.startsWith(" and ") ? " and " : " or ";
    while (eat(word)) list.push(one());
    return word === " and " ? { all: list } : { any: list };
  };
  const whole = group();
  if (rest) throw new Error(`left over: ${rest}`);
  return whole;
}

const FIELD: Record<string, FieldKey> = {
  product: "product",
  value: "value",
  "came before": "came-before",
  "first came": "first-came",
  "time of day": "time-of-day",
  tag: "tag",
  message: "message",
};
const SAID: [string, Test["is"]][] = [
  ["is not known", "unknown"],
  ["is known", "known"],
  ["is one of", "one-of"],
  ["is not before", "from"],
  ["is before", "before"],
  ["is between", "between"],
  ["is at least", "at-least"],
  ["is at most", "at-most"],
  ["is not", "not-equal"],
  ["is", "equal"],
  ["contains", "contains"],
  ["starts with", "starts-with"],
];
function question(text: string): Test {
  const name = Object.keys(FIELD).find((n) => text.startsWith(`${n} `));
  const rest = text.slice((name?.length ?? 0) + 1);
  const said = SAID.find(([words]) => rest === words || rest.startsWith(`${words} `));
  if (!name || !said) throw new Error(`not a question: ${text}`);
  const value = rest.slice(said[0].length + 1);
  const list = said[1] === "one-of" ? value.split(", ") : said[1] === "between" ? value.split(" and ") : null;
  return { field: FIELD[name]!, is: said[1], value: list ?? (name === "value" ? Number(value) : value) };
}

describe("evaluate, explain and the sentence agree", () => {
  it("the sentence, read back, holds for the same leads", () => {
    fc.assert(
      fc.property(tree, leads, (condition, lead) => {
        const back = readBack(inWords(condition));
        expect(evaluate(back, factsOf(lead))).toBe(evaluate(condition, factsOf(lead)));
      }),
      { numRuns: 1_000 },
    );
  });
  it("whyNot is silent exactly when it holds, and names a part that fails", () => {
    fc.assert(
      fc.property(tree, leads, (condition, lead) => {
        const why = whyNot(condition, factsOf(lead));
        expect(why === null).toBe(evaluate(condition, factsOf(lead)));
      }),
    );
  });
});

describe("against an independent evaluator", () => {
  /** json-rules-engine evaluates the tree; each question is a fact it asks of the plain reading above. */
  const nested = (condition: Condition): NestedCondition => {
    if ("field" in condition) return { fact: JSON.stringify(condition), operator: "equal", value: true };
    if ("all" in condition) return { all: condition.all.map(nested) };
    if ("any" in condition) return { any: condition.any.map(nested) };
    return { not: { any: condition.none.map(nested) } };
  };
  const questions = (condition: Condition): Test[] =>
    "field" in condition ? [condition] : (Object.values(condition).flat() as Condition[]).flatMap(questions);
  it("agrees with json-rules-engine over a plain reading of each question, on thousands of trees and leads", async () => {
    await fc.assert(
      fc.asyncProperty(tree, leads, async (condition, lead) => {
        const top = nested("field" in condition ? { all: [condition] } : condition) as TopLevelCondition;
        const engine = new Engine([{ conditions: top, event: { type: "holds" } }], {
          allowUndefinedFacts: true,
        });
        for (const q of questions(condition))
          engine.addFact(JSON.stringify(q), plainly(q, lead[q.field as keyof LeadFacts]));
        const { events } = await engine.run();
        expect(evaluate(condition, factsOf(lead))).toBe(events.length > 0);
      }),
      { numRuns: 3_000 },
    );
  });
});

describe("what can ever hold", () => {
  const ever = (condition: Condition) => canEverHold(condition, (f) => TYPES[f] ?? null);
  it.each<[string, Condition]>([
    [
      "no",
      {
        all: [
          { field: "product", is: "equal", value: "lodge" },
          { field: "product", is: "not-equal", value: "Lodge" },
        ],
      },
    ],
    [
      "no",
      {
        all: [
          { field: "value", is: "at-least", value: 5 },
          { field: "value", is: "at-most", value: 4 },
        ],
      },
    ],
    [
      "yes",
      {
        all: [
          { field: "value", is: "at-least", value: 4 },
          { field: "value", is: "at-most", value: 4 },
        ],
      },
    ],
    [
      "no",
      {
        all: [
          { field: "product", is: "one-of", value: ["a", "b"] },
          { none: [{ field: "product", is: "known" }] },
        ],
      },
    ],
    [
      "no",
      {
        all: [
          { field: "message", is: "contains", value: "spa" },
          { none: [{ field: "message", is: "contains", value: "spa" }] },
        ],
      },
    ],
    [
      "maybe",
      {
        all: [
          { field: "message", is: "contains", value: "spa" },
          { none: [{ field: "message", is: "contains", value: "s" }] },
        ],
      },
    ],
    [
      "no",
      {
        all: [
          { field: "tag", is: "equal", value: "vip" },
          { field: "tag", is: "not-equal", value: "vip" },
        ],
      },
    ],
    [
      "no",
      {
        all: [
          { field: "time-of-day", is: "between", value: ["22:00", "06:00"] },
          { field: "time-of-day", is: "between", value: ["07:00", "08:00"] },
        ],
      },
    ],
    [
      "no",
      {
        all: [
          { field: "first-came", is: "from", value: "2026-03-04" },
          { field: "first-came", is: "before", value: "2026-03-04" },
        ],
      },
    ],
    ["no", { any: [] }],
    ["yes", { all: [] }],
  ])("%s: %j", (answer, condition) => expect(ever(condition)).toBe(answer));
  it("is sound: what it says can never hold holds for no lead, and what surely can is not denied by any other word of it", () => {
    fc.assert(
      fc.property(tree, fc.array(leads, { minLength: 1, maxLength: 30 }), (condition, many) => {
        if (ever(condition) === "no")
          for (const lead of many) expect(evaluate(condition, factsOf(lead))).toBe(false);
        if (many.some((lead) => evaluate(condition, factsOf(lead)))) expect(ever(condition)).not.toBe("no");
      }),
      { numRuns: 500 },
    );
  });
  it("gives up on a monster instead of holding anybody up", () => {
    const monster: Condition = {
      all: Array.from({ length: 40 }, (_, i) => ({
        any: [
          { field: `own.a${i}` as FieldKey, is: "contains" as const, value: "x" },
          { field: `own.b${i}` as FieldKey, is: "contains" as const, value: "y" },
        ],
      })),
    };
    expect(ever({ all: [monster, { none: [monster] }] })).not.toBe("yes");
  });
});
