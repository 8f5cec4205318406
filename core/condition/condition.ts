import { answersOf, compileTest, OPERATOR_WORDS } from "./operators.ts";
import {
  type Condition,
  type Facts,
  type FieldKey,
  fieldName,
  type Names,
  type Operator,
  type Test,
} from "./tree.ts";

export type { Operator, Test };

type Compiled = (facts: Facts) => boolean;
const compiled = new WeakMap<Condition, Compiled>();

function compile(condition: Condition): Compiled {
  if ("all" in condition) {
    const parts = condition.all.map(compile);
    return (facts) => parts.every((holds) => holds(facts));
  }
  if ("any" in condition) {
    const parts = condition.any.map(compile);
    return (facts) => parts.some((holds) => holds(facts));
  }
  if ("none" in condition) {
    const parts = condition.none.map(compile);
    return (facts) => !parts.some((holds) => holds(facts));
  }
  const { field } = condition;
  const holds = compileTest(condition);
  return (facts) => holds(facts(field));
}

/** Whether the condition holds for these facts. No condition holds always; an empty `any` never does. */
export function evaluate(condition: Condition | null, facts: Facts): boolean {
  if (!condition) return true;
  let holds = compiled.get(condition);
  if (!holds) {
    holds = compile(condition);
    compiled.set(condition, holds);
  }
  return holds(facts);
}

/** The first part that keeps the condition from holding, in words with what was found; null when it holds. */
export function whyNot(condition: Condition | null, facts: Facts, names: Names | null = null): string | null {
  if (!condition || evaluate(condition, facts)) return null;
  if ("all" in condition) return whyNot(condition.all.find((c) => !evaluate(c, facts)) ?? null, facts, names);
  if ("any" in condition)
    return condition.any.length ? inner(condition, names) : "something that is asked for";
  if ("none" in condition)
    return `${inWords(condition.none.find((c) => evaluate(c, facts)) ?? null, names)}, which it must not`;
  const found = answersOf(facts(condition.field))
    .map((v) => called(names, condition.field, v))
    .join(", ");
  return `${inWords(condition, names)}, but ${found ? `it is ${found}` : "it is not known"}`;
}

const called = (names: Names | null, field: FieldKey, value: string | number) =>
  names ? names(field, String(value)) : String(value);

const said = new WeakMap<Names, WeakMap<Condition, string>>();

/** The condition as a sentence part: `product is lodge and country is CA`. */
export function inWords(condition: Condition | null, names: Names | null = null): string {
  if (!condition) return "always";
  if (!names) return sentence(condition, names);
  // Rules are said over and over, of every lead that comes.
  const known = said.get(names) ?? new WeakMap<Condition, string>();
  said.set(names, known);
  const words = known.get(condition) ?? sentence(condition, names);
  known.set(condition, words);
  return words;
}

function sentence(condition: Condition, names: Names | null): string {
  const parts = (list: readonly Condition[], word: string) => list.map((c) => inner(c, names)).join(word);
  if ("all" in condition) return parts(condition.all, " and ") || "always";
  if ("any" in condition) return parts(condition.any, " or ") || "never";
  if ("none" in condition)
    return condition.none.length ? `none of: ${parts(condition.none, "; ")}` : "always";
  const { field, is, value } = condition;
  const name = fieldName(field);
  if (is === "known" || is === "unknown") return `${name} ${OPERATOR_WORDS[is]}`;
  const values = (typeof value === "object" ? value : [value ?? ""]).map((v) => called(names, field, v));
  return `${name} ${OPERATOR_WORDS[is]} ${values.join(is === "between" ? " and " : ", ")}`;
}

function inner(condition: Condition, names: Names | null): string {
  return "field" in condition ? inWords(condition, names) : `(${inWords(condition, names)})`;
}

/** What is wrong with a condition, with its path; null when it can be used. Trees may be of any depth up to 20. */
export function conditionProblem(
  condition: Condition | null,
  typeOf: (field: FieldKey) => { readonly operators: readonly Operator[] } | null,
  path = "when",
  depth = 0,
): { path: string; message: string } | null {
  if (!condition) return null;
  if (depth > 20) return { path, message: "Conditions may lie twenty deep at most." };
  for (const kind of ["all", "any", "none"] as const)
    if (kind in condition) {
      const list = (condition as Record<string, readonly Condition[]>)[kind]!;
      if (list.length === 0)
        return { path, message: "A group of questions is empty. Add one, or remove the group." };
      for (const [i, part] of list.entries()) {
        const wrong = conditionProblem(part, typeOf, `${path}.${kind}.${i}`, depth + 1);
        if (wrong) return wrong;
      }
      return null;
    }
  const test = condition as Test;
  const type = typeOf(test.field);
  if (!type) return { path: `${path}.field`, message: `There is no field “${test.field}”.` };
  if (!type.operators.includes(test.is))
    return {
      path: `${path}.is`,
      message: `“${fieldName(test.field)}” can’t be asked whether it “${OPERATOR_WORDS[test.is]}”.`,
    };
  return valueProblem(test, path);
}

/** So many values one question compares with, and so long (characters) each may be. */
const MOST_VALUES = 500;
const LONGEST_VALUE = 500;

function valueProblem({ field, is, value }: Test, path: string): { path: string; message: string } | null {
  const wrong = (message: string) => ({ path: `${path}.value`, message });
  if (is === "known" || is === "unknown") return null;
  const list = (typeof value === "object" ? value : [value ?? ""]).map(String);
  if (list.length > MOST_VALUES || list.some((v) => v.length > LONGEST_VALUE))
    return wrong(
      `${MOST_VALUES} values of ${LONGEST_VALUE} characters are the most one question compares with.`,
    );
  if (list.length === 0 || list.some((v) => !v.trim()))
    return wrong(`Say what “${fieldName(field)}” is compared with.`);
  if ((is === "at-least" || is === "at-most") && !Number.isFinite(Number(list[0])))
    return wrong(`“${list[0]}” is not a number.`);
  if ((is === "from" || is === "before") && !/^\d{4}-\d{2}-\d{2}$/.test(list[0]!))
    return wrong("Write the date as 2026-03-04.");
  if (is === "between" && !(list.length === 2 && list.every((v) => /^([01]\d|2[0-3]):[0-5]\d$/.test(v))))
    return wrong("Give two times of day, such as 08:00 and 12:00.");
  return null;
}
