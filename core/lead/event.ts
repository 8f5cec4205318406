import type { Setup } from "../policy/setup.ts";
import type { Lead } from "./lead.ts";

/** Who did it: a person of ours, the lead, or the desk on its own. */
export type Actor =
  | { readonly kind: "person"; readonly id: string }
  | { readonly kind: "lead" }
  | { readonly kind: "desk" };

/** How a decision came about, in the order it was thought through. */
export interface Trace {
  readonly outcome: string;
  readonly steps: readonly TraceStep[];
  /** The version of the rules it was thought through by. */
  readonly rules?: number;
}

export interface TraceStep {
  readonly kind:
    | "match"
    | "aside"
    | "rule"
    | "candidate"
    | "choice"
    | "rotation"
    | "target"
    | "standby"
    | "reply";
  readonly name: string;
  readonly result: "yes" | "no";
  readonly reason: string;
}

/** What every event says of itself. `seq` counts the lead's events from 1; `actId` joins those of one plan. */
export interface EventHead {
  readonly id: string;
  readonly leadId: string;
  readonly seq: number;
  readonly actId: string;
  readonly at: number;
  readonly actor: Actor;
  readonly why?: Trace;
}

/** What an event changes of its lead. */
export type Change = Partial<Lead>;

/** Something they said to us, and how. */
export interface TheirWords {
  readonly how: "form" | "email" | "text" | "chat" | "voicemail" | "call";
  /** Null where there are no words: a call nobody answered, a form without a message. */
  readonly text: string | null;
}

/** What is true of every event of a kind. Whoever must know asks here, and keeps no list of kinds of its own. */
export interface Traits<D> {
  /** It may follow an act without standing in the way of taking that back, and is no act itself. */
  readonly passedOver?: true;
  /** An act with it can't be taken back, whatever else is in it. */
  readonly final?: true;
  /** What taking it back is called, where a person may. */
  readonly undone?: string;
  /** It tells routing nothing: who got what, and how, is known without it. */
  readonly untoldToRouting?: true;
  /** It only follows from another event: where a course of things is told in short, that one says it. */
  readonly follows?: true;
  /** Something that was said or done between them and us, or written down of them: all else is how the desk ran it. */
  readonly talk?: true;
  /** What they said by it; null when they said nothing by this one. */
  readonly theirs?: (data: D) => TheirWords | null;
  /** What somebody wrote by it, to be searched; null when there are no words of anybody's. */
  readonly wrote?: (data: D) => string | null;
  /** It is not shown in the thread: it would only repeat what stands there. */
  readonly unshown?: (data: D) => boolean;
}

/** One kind of event, whole: what it carries (`D`), what it changes, how it is said, and what is true of it. */
export interface EventKindOf<D> extends Traits<D> {
  readonly fold: (lead: Lead, data: D, event: EventHead) => Change;
  readonly said: (data: D, setup: Setup, event: EventHead) => string;
}

/** A kind of event that carries `D`. */
export const event = <D>(kind: EventKindOf<D>): EventKindOf<D> => kind;
