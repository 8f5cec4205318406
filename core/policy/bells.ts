import type { Condition } from "../condition/tree.ts";
import type { AlertWay } from "../vocabulary.ts";

/** What a bell watches over: that an inquiry is tried, or that another promise of the desk is kept. */
export type BellKind = "inquiry" | OtherBellKind;

/** Bells beside the one of an inquiry; each has its own reason to run. */
export const OTHER_BELLS = ["untried", "reply", "overdue", "promise", "stalled", "aimless"] as const;
export type OtherBellKind = (typeof OTHER_BELLS)[number];

/** The clock a bell is reckoned by. */
export interface BellTerms {
  readonly minutes: number;
  /** Whether the minutes are the desk's open minutes or plain ones. */
  readonly clock: "desk" | "wall";
  /** Whose wall the desk's hours are read from; the desk's own when left out. */
  readonly zone?: "lead" | undefined;
}

/** Within what something must have happened: a human try on an inquiry, or what another bell waits for. */
export interface Target extends BellTerms {
  readonly id: string;
  readonly name: string;
  /** An inquiry when left out. */
  readonly about?: OtherBellKind | undefined;
  readonly when: Condition | null;
  readonly ladderId: string;
  /** Switched off: kept, but not asked. */
  readonly off?: boolean | undefined;
}

/**
 * What a rung does: `ring` is the bell itself and part of every ladder; `next` takes it from whoever has it and asks
 * the rules for another; `manager` tells managers, with a link to act on.
 */
export const RUNG_ACTS = [
  "nudge",
  "ring",
  "manager",
  "next",
  "group",
  "standby",
  "tag",
  "list",
  "park",
] as const;
export type RungAct = (typeof RUNG_ACTS)[number];

/** One escalation step: at a fraction of the target, plus minutes of the same clock. */
export interface Rung {
  readonly fraction: number;
  readonly plusMinutes: number;
  readonly act: RungAct;
  /** Of a nudge: by these ways, whatever they have chosen. */
  readonly ways?: readonly AlertWay[] | undefined;
  readonly groupId?: string | undefined;
  readonly tag?: string | undefined;
  /** Of parking: into which cadence; none when left out. */
  readonly planId?: string | undefined;
}

export interface Ladder {
  readonly id: string;
  readonly name: string;
  readonly rungs: readonly Rung[];
}

/** What becomes of rungs that could not be climbed in time, because the desk was off. */
export interface LatePolicy {
  /** From so many minutes on a rung counts as late. */
  readonly graceMinutes: number;
  /** Late rungs that make no sense any more; every other is climbed late. */
  readonly skip: readonly RungAct[];
}

/** The summary managers get as the desk opens. */
export interface MorningPolicy {
  readonly on: boolean;
  readonly ways: readonly ("email" | "chat")[];
}
