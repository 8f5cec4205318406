import type { BellKind, BellTerms, RungAct } from "../policy/bells.ts";
import type { Signal } from "../policy/parking.ts";
import type { RotationState, TurnTaken } from "../rotation/turns.ts";
import type {
  AlertAbout,
  Attachment,
  CallResult,
  Channel,
  ContactWay,
  OptWord,
  TryChannel,
} from "../vocabulary.ts";
import type { InquiryFacts } from "./inquiry.ts";
import type {
  Booked,
  Engaged,
  Known,
  Lead,
  MaybeSame,
  NextStep,
  OtherBell,
  PlannedRung,
  PromiseMade,
  Related,
  Restorable,
  Scheduled,
  Standing,
  Stop,
} from "./lead.ts";

/** Who did it: a person of ours, the lead, or the desk by itself. */
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

/** Everything that can happen to a lead, with what is needed to fold it. */
export interface EventData {
  readonly inquiry: {
    readonly inquiryId: string;
    readonly sourceId: string;
    readonly channel: Channel;
    readonly facts: InquiryFacts;
    readonly match: "new" | "sure";
    /** What the sure match was found by. */
    readonly on: string | null;
    /** Sent by somebody of ours to see whether everything works. */
    readonly test?: true;
    /** Whose test it is, when it concerns nobody else. */
    readonly tester?: string;
    /** Of a list that is only kept: the lead begins parked. */
    readonly kept?: true;
    /** The version of the source's mapping it was understood by. */
    readonly mapping?: number;
  };
  /** They called one of our lines. */
  readonly "called-in": {
    readonly callId: string;
    readonly line: string;
    readonly from: string;
    readonly result: "answered" | "missed" | "voicemail";
    readonly seconds: number;
    readonly recording: Attachment | null;
    /** Who of ours talked to them. */
    readonly personId: string | null;
  };
  /** One of us called them from the desk. What it came to is said by the try that follows. */
  readonly "called-out": {
    readonly callId: string;
    readonly personId: string;
    readonly to: string;
    readonly from: string;
    readonly result: CallResult;
    readonly seconds: number;
    readonly recording: Attachment | null;
  };
  /** Somebody of ours talks to them, or writes to them by hand. */
  readonly engaged: Pick<Engaged, "personId" | "how" | "until">;
  /** They no longer do. */
  readonly "let-be": { readonly personId: string };
  readonly "maybe-same": { readonly of: readonly MaybeSame[] };
  readonly "not-same": { readonly leadId: string; readonly name: string | null };
  /** Another lead was joined to this one. */
  readonly joined: {
    readonly leadId: string;
    readonly name: string | null;
    readonly lead: Lead;
    /** Its messages that wait come along too; joins of before it was so left them behind. */
    readonly messages?: true;
  };
  /** This lead was joined to another one. */
  readonly "joined-to": { readonly leadId: string; readonly name: string | null };
  /** What was joined is taken apart again; `known` is what this lead knows without the other. */
  readonly parted: {
    readonly leadId: string;
    readonly name: string | null;
    readonly known: Known;
    /** How this lead stands without the other: its own tries, owner, steps and messages. */
    readonly own?: Standing;
    /** What could not be given back to whom it belonged, in words. */
    readonly lost?: readonly string[];
  };
  readonly "parted-from": {
    readonly leadId: string;
    readonly name: string | null;
    readonly restore: Restorable & Partial<Standing>;
  };
  readonly shared: { readonly value: string; readonly shared: boolean };
  readonly related: { readonly related: readonly Related[] };
  /** Somebody of ours filled in or mended facts. Only what changed is named. */
  readonly learned: { readonly facts: LearnedFacts };
  readonly "bell-started": {
    readonly target: string;
    readonly ladder: string;
    readonly terms: BellTerms;
    readonly dueAt: number;
    readonly rungs: readonly PlannedRung[];
  };
  /** Bells beside the response bell begin, each for its own reason. */
  readonly watched: { readonly bells: readonly OtherBell[] };
  /** A running bell is reckoned anew: what was climbed stays, what is to come has other times. */
  readonly "bell-moved": {
    readonly bell: BellKind;
    readonly dueAt: number;
    readonly rungs: readonly PlannedRung[];
    readonly reason: string;
    /** The time they asked for. */
    readonly askedFor?: number;
    /** The policies it runs by from now on, where somebody asked for that. */
    readonly anew?: { readonly target: string; readonly ladder: string; readonly terms: BellTerms };
  };
  /** Nothing need be done about it, and why. */
  readonly excused: { readonly bell: BellKind; readonly reason: string };
  /** A rung other than the nudge, the ring and standby of the response bell; `skipped` says why it was left out. */
  readonly climbed: {
    readonly bell: BellKind;
    readonly act: RungAct;
    readonly dueAt: number;
    readonly late: number;
    readonly to?: readonly string[];
    readonly tag?: string;
    readonly skipped?: string;
  };
  readonly promised: { readonly promise: PromiseMade };
  readonly parked: {
    readonly reason: string;
    readonly planId: string | null;
    readonly planName: string | null;
    readonly lookAt: number | null;
    readonly nextAt: number | null;
    /** Who has it back then; whoever manages decides when nobody is named. */
    readonly backTo?: string;
  };
  /** The slow plan has done its next step: a message, or none that could go. */
  readonly "slow-step": { readonly nextAt: number | null };
  /** They came back to one of the company's own pages. */
  readonly visited: { readonly url: string };
  /** A signal of a parked lead, and the rule that heeded it. */
  readonly woken: {
    readonly signal: Signal;
    readonly ruleId: string | null;
    readonly ruleName: string;
    readonly does: "route" | "former" | "tell";
  };
  readonly offered: {
    readonly handOffId: string;
    readonly to: readonly string[];
    readonly until: number;
    /** When they were asked; offers of before it was kept say nothing. */
    readonly askedAt?: number;
    readonly open: boolean;
    readonly by: string;
    readonly ruleId?: string;
    readonly groupId?: string;
    /** The turn it cost, where a rotation chose. */
    readonly turn?: TurnTaken & { readonly before: RotationState };
  };
  readonly taken: { readonly personId: string };
  /** `turnBack`: they have the turn again. */
  readonly passed: { readonly personId: string; readonly reason: string; readonly turnBack?: true };
  /** `taken`: they had it, and it was taken back since nobody tried. */
  readonly lapsed: { readonly to: readonly string[]; readonly turnBack?: true; readonly taken?: true };
  readonly given: {
    readonly to: string;
    readonly reason: string;
    readonly from: string | null;
    /** Only while that person is away. */
    readonly coversFor?: string;
    /** The next step stays with whoever it was for; it moves along when left out. */
    readonly steps?: "stay";
    /** Where nobody gave it by hand. */
    readonly standby?: true;
  };
  /** Whoever passed or let it lapse may be asked again: all had. */
  readonly "asked-anew": Record<string, never>;
  /** Who it belongs to by agreement, whoever works it. */
  readonly credited: { readonly to: string | null; readonly reason: string };
  /** A lead that was none: whoever had it has the turn again. */
  readonly "turn-credited": { readonly personId: string; readonly groupId: string; readonly reason: string };
  readonly listed: { readonly reason: string; readonly retryAt: number | null };
  readonly nudged: { readonly to: readonly string[]; readonly dueAt: number; readonly late?: number };
  readonly rang: { readonly dueAt: number; readonly late: number };
  readonly "stood-by": { readonly to: string | null; readonly late?: number };
  readonly tried: {
    readonly personId: string;
    readonly channel: TryChannel;
    readonly outcome: string;
    readonly outcomeName: string;
    readonly reached: boolean;
    readonly note: string | null;
    /** Trying that way answers no bell. */
    readonly uncounted?: true;
  };
  readonly "next-step": { readonly step: NextStep | null };
  readonly "message-out": {
    readonly messageId: string;
    readonly channel: "email" | "text";
    readonly to: string;
    readonly subject: string | null;
    readonly body: string;
    readonly template: string | null;
    readonly templateId?: string;
    /** Nobody wrote it: the desk sent it by itself. */
    readonly auto?: true;
    /** Until when it can be called back. */
    readonly leavesAt?: number;
    /** The scheduled message it was. */
    readonly scheduledId?: string;
    readonly attachments?: readonly Attachment[];
  };
  /** A message waits for its time; the reason is for the thread. */
  readonly scheduled: { readonly item: Scheduled; readonly reason: string };
  readonly unscheduled: { readonly ids: readonly string[]; readonly reason: string };
  /** An automatic message was not sent, and why. */
  readonly "held-back": {
    readonly channel: "email" | "text";
    readonly what: string;
    readonly reason: string;
    readonly scheduledId?: string;
  };
  /** They asked not to be reached that way, or to be again. */
  readonly stopped: { readonly channel: ContactWay; readonly how: Stop["how"]; readonly said: string };
  readonly "stop-lifted": { readonly channel: ContactWay; readonly said: string };
  /** They opened a link in one of our messages. */
  readonly clicked: { readonly messageId: string; readonly url: string };
  readonly booked: { readonly booked: Booked; readonly movedFrom: number | null };
  readonly "booking-cancelled": { readonly booked: Booked };
  readonly pinned: { readonly text: string | null };
  readonly "message-in": {
    readonly channel: "email" | "text";
    readonly from: string;
    readonly subject: string | null;
    readonly body: string;
    /** The quoted history below what they wrote, folded away. */
    readonly quoted?: string;
    /** Their mail as cleaned HTML, when it had any. */
    readonly html?: string;
    readonly attachments?: readonly Attachment[];
    /** How its conversation was found, when not by who they are. */
    readonly found?: string;
    /** Their mail's Message-ID, for answers to name. */
    readonly messageId?: string;
    /** Sent by a machine; nobody is waiting for an answer. */
    readonly robot?: string;
    /** It is an opt-out, opt-in or help word: the desk has answered it by itself. */
    readonly word?: OptWord;
  };
  readonly alerted: {
    readonly about: AlertAbout;
    readonly personId: string | null;
    readonly messageIds: readonly string[];
  };
  readonly noted: { readonly text: string; readonly mentions?: readonly string[] };
  readonly closed: { readonly reason: string };
  readonly reopened: Record<string, never>;
  readonly undone: { readonly actId: string; readonly what: string; readonly restore: Restorable };
}

/** Facts as somebody of ours sets them; null forgets one. */
export interface LearnedFacts {
  readonly name?: string | null;
  readonly company?: string | null;
  readonly emails?: readonly string[];
  readonly phones?: readonly string[];
  readonly tags?: readonly string[];
  readonly facts?: Partial<Lead["facts"]>;
}

export type EventKind = keyof EventData;

/** One thing that happened to a lead. `seq` counts the lead's events from 1; `actId` joins those of one plan. */
export type LeadEvent = {
  [K in EventKind]: {
    readonly id: string;
    readonly leadId: string;
    readonly seq: number;
    readonly actId: string;
    readonly at: number;
    readonly actor: Actor;
    readonly kind: K;
    readonly data: EventData[K];
    readonly why?: Trace;
  };
}[EventKind];
