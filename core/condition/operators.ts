import type { FieldValue, Operator, Test } from "./tree.ts";

export const OPERATOR_WORDS: Readonly<Record<Operator, string>> = {
  equal: "is",
  "not-equal": "is not",
  "one-of": "is one of",
  contains: "contains",
  "starts-with": "starts with",
  known: "is known",
  unknown: "is not known",
  "at-least": "is at least",
  "at-most": "is at most",
  from: "is not before",
  before: "is before",
  between: "is between",
};

/** Answers as they were folded last: fifty rules ask about the same message, and most leads about the same places. */
const folded = new Map<string, string>();
const MOST_FOLDED = 500;

/** An answer as it is compared: without blanks around it and without regard to case. */
export function fold(v: unknown): string {
  const text = String(v);
  let known = folded.get(text);
  if (known === undefined) {
    known = text.trim().toLowerCase();
    if (folded.size >= MOST_FOLDED) folded.clear();
    folded.set(text, known);
  }
  return known;
}

/** The answers a field gave, none of them empty. */
export function answersOf(value: FieldValue): readonly (string | number)[] {
  if (value === null || value === "") return [];
  return typeof value === "object" ? value.filter((v) => v !== "") : [value];
}

/** What a test wants to find, as it is compared. */
export function wanted({ value }: Test): readonly string[] {
  return (typeof value === "object" ? value : [value ?? ""]).map(fold);
}

/**
 * A test as a function of the field's answer: what it wants is folded once. Letters compare without regard to case;
 * dates (`2026-03-04`) and times (`08:00`) compare as text; `between` excludes its end and may go over midnight.
 */
export function compileTest(test: Test): (answer: FieldValue) => boolean {
  const want = wanted(test);
  const number = Number(test.value);
  const some = (match: (have: string) => boolean) => (answer: FieldValue) =>
    typeof answer === "string"
      ? answer !== "" && match(fold(answer))
      : answersOf(answer).some((h) => match(fold(h)));
  const isOne = want.length === 1 ? (h: string) => h === want[0] : (h: string) => want.includes(h);
  switch (test.is) {
    case "known":
      return (answer) => answersOf(answer).length > 0;
    case "unknown":
      return (answer) => answersOf(answer).length === 0;
    case "equal":
    case "one-of":
      return some(isOne);
    case "not-equal": {
      const equal = some(isOne);
      return (answer) => !equal(answer);
    }
    case "contains":
      return some((h) => want.some((w) => h.includes(w)));
    case "starts-with":
      return some((h) => want.some((w) => h.startsWith(w)));
    case "at-least":
      return (answer) => answersOf(answer).some((h) => Number(h) >= number);
    case "at-most":
      return (answer) => answersOf(answer).some((h) => Number(h) <= number);
    case "from":
      return some((h) => h >= want[0]!);
    case "before":
      return some((h) => h < want[0]!);
    case "between": {
      const [from = "", to = ""] = want;
      return some((h) => (from <= to ? h >= from && h < to : h >= from || h < to));
    }
  }
}
