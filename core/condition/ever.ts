import type { Test } from "./condition.ts";
import { compileTest, wanted } from "./operators.ts";
import { type Answer, judge } from "./possible.ts";
import type { Condition, FieldKey, FieldType, FieldValue } from "./tree.ts";

/** How many partial worlds are looked at before the question is given up: a few tens of milliseconds. */
const MOST = 20_000;

/** Something that can be settled for itself: all tests about one field, or one test nothing else is known about. */
interface Choice {
  /** What each of its tests comes to, one a way the world may be. */
  readonly ways: readonly ReadonlyMap<string, boolean>[];
  /** Whether each of the ways can really be. */
  readonly sure: boolean;
}

const nameOf = (test: Test) => JSON.stringify([test.field, test.is, test.value ?? null]);

/**
 * Whether some lead could make the condition hold. `no` is a proof: whatever a lead says, it can't. `yes` has an example.
 * `maybe` is said when it depends on what texts contain or on answers that are several, or when it would take too long.
 *
 * Every field with one answer is tried with each value that is named for it, something else, and nothing: no other value
 * could tell the tests apart. Numbers are also tried between and beside the named ones.
 */
export function canEverHold(
  condition: Condition | null,
  typeOf: (field: FieldKey) => FieldType | null,
): Answer {
  const byField = new Map<FieldKey, Map<string, Test>>();
  collect(condition, byField);
  const choices = [...byField].flatMap(([field, tests]) => choicesFor([...tests.values()], typeOf(field)));
  const settled = new Map<string, boolean>();
  let left = MOST;
  const search = (depth: number, sure: boolean): Answer => {
    if (left-- <= 0) return "maybe";
    const answer = judge(condition, (test) => {
      const value = settled.get(nameOf(test));
      return value === undefined ? "maybe" : value ? "yes" : "no";
    });
    if (answer === "no") return "no";
    if (answer === "yes") return sure ? "yes" : "maybe";
    const choice = choices[depth]!;
    let best: Answer = "no";
    for (const way of choice.ways) {
      for (const [test, value] of way) settled.set(test, value);
      const found = search(depth + 1, sure && choice.sure);
      if (found === "yes") return "yes";
      if (found === "maybe") best = "maybe";
    }
    for (const test of choice.ways[0]!.keys()) settled.delete(test);
    return best;
  };
  return search(0, true);
}

function collect(condition: Condition | null, into: Map<FieldKey, Map<string, Test>>): void {
  if (!condition) return;
  if ("field" in condition) {
    const tests = into.get(condition.field) ?? new Map<string, Test>();
    into.set(condition.field, tests.set(nameOf(condition), condition));
  } else for (const part of Object.values(condition).flat() as Condition[]) collect(part, into);
}

function choicesFor(tests: readonly Test[], type: FieldType | null): Choice[] {
  const candidates = candidatesFor(tests, type);
  if (candidates) return [{ ways: distinct(candidates.map((value) => waysOf(tests, value))), sure: true }];
  // Of texts and of fields with several answers only the same question twice is known to get the same answer,
  // and its denial the other one.
  const questions = new Map<string, Test[]>();
  for (const test of tests) {
    const { is, ...rest } = test;
    const asked = nameOf({ ...rest, is: DENIES[is] ?? is });
    questions.set(asked, [...(questions.get(asked) ?? []), test]);
  }
  return [...questions.values()].map((same) => ({
    ways: [true, false].map(
      (holds) => new Map(same.map((t) => [nameOf(t), t.is in DENIES ? !holds : holds])),
    ),
    sure: false,
  }));
}

const DENIES: Partial<Record<Test["is"], Test["is"]>> = { "not-equal": "equal", unknown: "known" };

const waysOf = (tests: readonly Test[], value: FieldValue): ReadonlyMap<string, boolean> =>
  new Map(tests.map((test) => [nameOf(test), compileTest(test)(value)]));

function distinct(ways: readonly ReadonlyMap<string, boolean>[]): ReadonlyMap<string, boolean>[] {
  return [...new Map(ways.map((way) => [JSON.stringify([...way.values()]), way])).values()];
}

/** Values that tell the tests of a field apart, and all there are; null when that cannot be listed. */
function candidatesFor(tests: readonly Test[], type: FieldType | null): FieldValue[] | null {
  const named = tests.flatMap((t) => (t.is === "known" || t.is === "unknown" ? [] : wanted(t)));
  const byPiece = tests.some((t) => t.is === "contains" || t.is === "starts-with");
  if (byPiece) return null;
  switch (type) {
    case "yes-no":
      return ["yes", "no", null];
    case "choice":
    case "text":
      return [...named, "something else", null];
    case "number": {
      const numbers = [...new Set(named.map(Number))].sort((a, b) => a - b);
      return [...numbers.flatMap((n, i) => [between(numbers[i - 1], n), n]), (numbers.at(-1) ?? 0) + 1, null];
    }
    // Between two named days or times every answer is like that of the earlier one.
    case "date":
      return [...named, "0000-01-01", null];
    case "time":
      return [...named, "00:00"];
    default:
      return null;
  }
}

const between = (low: number | undefined, high: number) => (low === undefined ? high - 1 : (low + high) / 2);
