import type { Condition } from "../condition/tree.ts";

/** What a parked lead did that may wake it. */
export const SIGNALS = {
  reply: "they write",
  call: "they call",
  form: "they inquire again",
  click: "they open one of our links",
  visit: "they come back to our website",
} as const;
export type Signal = keyof typeof SIGNALS;

/** Signals somebody waits behind: a calm-down never holds these back. */
export const STRONG_SIGNALS: readonly Signal[] = ["reply", "call", "form"];

/** What wakes which parked leads, and what is done then, always in the same order: owner, tag, alerts. */
export interface WakeRule {
  readonly id: string;
  readonly name: string;
  readonly signals: readonly Signal[];
  readonly when: Condition | null;
  /** Route it like new, give it to whoever had it, or leave it parked and only tell. */
  readonly does: "route" | "former" | "tell";
  readonly tag: string | null;
  /** Hours in which weak signals of the same lead do not fire this rule again. */
  readonly calmHours: number;
  readonly off?: boolean | undefined;
}
