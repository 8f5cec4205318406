import type { Test } from "./condition.ts";
import { evaluate } from "./condition.ts";
import type { Condition, FieldKey, FieldValue } from "./tree.ts";

export type Answer = "yes" | "no" | "maybe";

/** What is known of some fields beforehand; undefined is "not known yet". */
export type Beforehand = (field: FieldKey) => FieldValue | undefined;

/** A condition judged by what is known of its single tests: three-valued, sound, not complete. */
export function judge(condition: Condition | null, truth: (test: Test) => Answer): Answer {
  if (!condition) return "yes";
  if ("all" in condition) return every(condition.all, (c) => judge(c, truth));
  if ("any" in condition) return denied(every(condition.any, (c) => denied(judge(c, truth))));
  if ("none" in condition) return every(condition.none, (c) => denied(judge(c, truth)));
  return truth(condition);
}

/**
 * Whether a condition can still hold when only some fields are known: `no` only when it can't whatever the others turn
 * out to be, `yes` only when it must. Sound, not complete: what it can't tell is `maybe`.
 */
export function canHold(condition: Condition | null, known: Beforehand): Answer {
  return judge(condition, (test) => {
    const value = known(test.field);
    if (value === undefined) return "maybe";
    return evaluate(test, () => value) ? "yes" : "no";
  });
}

function every<T>(list: readonly T[], of: (item: T) => Answer): Answer {
  let all: Answer = "yes";
  for (const item of list) {
    const answer = of(item);
    if (answer === "no") return "no";
    if (answer === "maybe") all = "maybe";
  }
  return all;
}

export function denied(answer: Answer): Answer {
  return answer === "maybe" ? "maybe" : answer === "yes" ? "no" : "yes";
}
