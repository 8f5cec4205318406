import type { Condition } from "../condition/tree.ts";
import type { AskKey } from "./asks.ts";

/** Points for an answer: for one of these words, or for a number within these bounds. */
export interface Points {
  readonly points: number;
  readonly is?: readonly string[] | undefined;
  readonly atLeast?: number | undefined;
  readonly atMost?: number | undefined;
}

/** Something to find out about a lead: its answer is a fact like any other, kept where facts are kept. */
export interface Question {
  readonly key: string;
  /** To say aloud. */
  readonly words: string;
  /** The fact it asks for. */
  readonly field: AskKey;
  readonly help: string;
  /** Only asked when this holds: a follow-up by what was answered before. */
  readonly when?: Condition | null | undefined;
  /** The stage it must be answered for. */
  readonly requiredFor?: string | null | undefined;
  readonly points: readonly Points[];
}

/** What is asked to qualify a lead, in an order. */
export interface QuestionSet {
  readonly id: string;
  readonly name: string;
  /** Whom it is for; everybody when null. */
  readonly when: Condition | null;
  readonly questions: readonly Question[];
}
