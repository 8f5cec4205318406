import type { Evidence } from "../contact/likely.ts";
import type { E164 } from "../contact/phone.ts";
import type { Minor } from "../money/money.ts";
import type { BellTerms, OtherBellKind, Rung } from "../policy/bells.ts";
import type { TouchKind } from "../policy/cadence.ts";
import type { PhoneKind } from "../policy/mapping.ts";
import type { OwnValue } from "../policy/own-fields.ts";
import type { TurnTaken } from "../rotation/turns.ts";
import type { Attachment, ContactWay, StepKind } from "../vocabulary.ts";
import type { EstimateLine } from "../worksheet/reckon.ts";

/** What is known about what somebody wants and where they are. */
export interface LeadFacts {
  readonly product: string | null;
  readonly value: number | null;
  readonly message: string | null;
  readonly postalCode: string | null;
  readonly territory: string | null;
  /** IANA zone of the place where they are, as far as known. */
  readonly zone: string | null;
  readonly language: string;
  /** Everything else they answered, by the name of the field it came in. */
  readonly answers: Readonly<Record<string, string>>;
  /** The company's own fields, by key. */
  readonly own: Readonly<Record<string, OwnValue>>;
  readonly address: string | null;
  /** How they like to be reached, and how they must not be. */
  readonly preferred: ContactWay | null;
  readonly forbidden: readonly ContactWay[];
  readonly kinds: Readonly<Record<E164, PhoneKind>>;
  /** More about where they come from: which show, which partner. */
  readonly detail: string | null;
  /** Numbers and addresses as they were written that could not be read: nobody can be reached by them as they stand. */
  readonly unread: readonly string[];
}

/** Another lead that may be the same person, with the reasons. Never joined on its own. */
export interface MaybeSame {
  readonly leadId: string;
  readonly points: number;
  readonly evidence: readonly Evidence[];
}

/** Somebody who belongs to the lead: a spouse, a colleague, an architect. */
export interface Related {
  readonly name: string;
  readonly relation: string;
  /** Their own lead, when they have one. */
  readonly leadId: string | null;
}

/** Giving the lead to somebody with a time limit. `open` is an open call: the first who takes it has it. */
export interface HandOff {
  readonly id: string;
  readonly state: "offered" | "taken" | "open";
  readonly to: readonly string[];
  /** When the offer lapses (epoch ms); null once taken. */
  readonly until: number | null;
  /** When they were asked (epoch ms); not kept for offers made before it was. */
  readonly askedAt?: number;
}

/** A rung of a ladder as it was planned for one bell: what it does, and when it is due (epoch ms). */
export interface PlannedRung extends Rung {
  readonly at: number;
}

/** What every running bell has: the terms and rungs it was started with, which later changes of policy leave alone. */
interface Running {
  /** What the target was called. */
  readonly target: string;
  readonly ladder: string;
  readonly terms: BellTerms;
  /** Counted from here (epoch ms). */
  readonly startedAt: number;
  readonly dueAt: number;
  /** The time they asked for, where the target was moved there. */
  readonly askedFor: number | null;
  readonly rangAt: number | null;
  readonly rungs: readonly PlannedRung[];
  /** How many rungs have been climbed or left out; the next one is `rungs[climbed]`. */
  readonly climbed: number;
}

/** The response target as it runs for one inquiry. */
export interface Bell extends Running {
  /** Which bell of this lead it is, counting from 1. */
  readonly n: number;
  readonly state: "waiting" | "answered" | "rung" | "excused";
  readonly answeredAt: number | null;
  readonly excusedAt: number | null;
}

/** A bell beside the response bell. It ends on its own when its reason does (`core/response/reasons.ts`). */
export interface OtherBell extends Running {
  readonly kind: OtherBellKind;
  readonly state: "waiting" | "rung" | "excused";
  /** The moment that made its reason (epoch ms): another moment is another reason. */
  readonly since: number;
}

/** Set aside without a person: why, what still happens on its own, and when somebody looks again. */
export interface Parked {
  readonly reason: string;
  readonly at: number;
  /** Epoch ms; null when nobody need look. */
  readonly lookAt: number | null;
  /** Who has it back at `lookAt`; a manager decides when nobody is named. */
  readonly backTo?: string;
}

/** Why a cadence does not go on for a while. */
export type PauseWhy = "reply" | "asked" | "precedence" | "person";

/** Why a cadence has ended before its last touch. */
export type StopWhy =
  | "reply"
  | "call-back"
  | "reached"
  | "booked"
  | "won"
  | "closed"
  | "stage"
  | "parked"
  | "woken"
  | "person"
  | "higher"
  | "gone";

/** A lead in a cadence, or one it was in. Times are epoch ms. */
export interface CadenceRun {
  readonly id: string;
  readonly cadenceId: string;
  /** What the cadence was called as it began. */
  readonly name: string;
  /** The version it began with, and goes on by. */
  readonly version: number;
  readonly state: "running" | "paused" | "stopped" | "done";
  /** What `start` means: when it began, or began again. */
  readonly startedAt: number;
  /** When the touch before was done; `startedAt` before the first. */
  readonly lastAt: number;
  /** Index of the touch that is next, and when it is due; null while nothing is. */
  readonly n: number;
  readonly at: number | null;
  /** What that touch is. */
  readonly kind: TouchKind;
  /** How often it has begun again. */
  readonly round: number;
  /** The call or task it waits for: until then at the longest, or without an end (null). */
  readonly waits: { readonly until: number | null } | null;
  readonly pause: {
    readonly why: PauseWhy;
    readonly since: number;
    readonly until: number | null;
    /** The one of higher precedence that holds it back. */
    readonly by?: string;
  } | null;
  /** Until then nothing is sent on its own: one of us wrote by hand. */
  readonly quietUntil?: number;
  /** Minutes over which those who began with it are spread. */
  readonly spreadMinutes: number;
  /** Its message that may not have left yet. */
  readonly messageId: string | null;
  readonly ended: { readonly at: number; readonly why: StopWhy | null } | null;
}

/** Something one of ours is to do about a lead beside its next step. */
export interface Task {
  readonly id: string;
  readonly note: string;
  readonly dueAt: number;
  /** Whoever of these does it first has done it. */
  readonly to: readonly string[];
  readonly runId: string | null;
}

/** Something the lead was told: when we said we would do what. */
export interface PromiseMade {
  readonly text: string;
  readonly at: number;
  readonly personId: string;
}

/** A call the lead has chosen the time of. */
export interface Booked {
  readonly id: string;
  readonly at: number;
  readonly minutes: number;
  readonly personId: string;
  /** Grows with every change. */
  readonly sequence: number;
}

/** Somebody is talking to the lead, or writing to it by hand: nothing rings, nudges or moves it on until then. */
export interface Engaged {
  readonly personId: string;
  readonly how: "call" | "writing";
  readonly since: number;
  /** The longest it counts without another word of it (epoch ms): a dialog nobody closes hides no lead. */
  readonly until: number;
}

/** How somebody asked not to be reached in some way. */
export interface Stop {
  readonly channel: ContactWay;
  readonly at: number;
  /** By an opt-out word, by the link in a mail, or told to one of us. */
  readonly how: "word" | "unsubscribe" | "person";
  readonly said: string;
}

/** An address or number of theirs that a message did not reach. */
export interface Bounce {
  readonly channel: "email" | "text";
  readonly to: string;
  readonly at: number;
  /** In words, without a full stop. */
  readonly because: string;
}

/** A message that goes out later. What is automatic is weighed again when its time has come. */
export interface Scheduled {
  readonly id: string;
  readonly at: number;
  readonly channel: "email" | "text";
  /** `slow`: of a slow plan, as there were before cadences. */
  readonly purpose: "first-reply" | "reply" | "slow";
  /** Filled in when it goes; null when `body` is what somebody wrote. */
  readonly templateId: string | null;
  readonly subject: string | null;
  readonly body: string;
  /** Who wrote it; null when nobody did. */
  readonly personId: string | null;
  /** Our line or address it comes from. */
  readonly from: string;
  /** The inquiry an automatic reply answers. */
  readonly inquiryId: string | null;
  readonly attachments?: readonly Attachment[];
  readonly anyHour?: boolean;
  /** When what it answers came in (epoch ms). */
  readonly since?: number;
  /** Waits until somebody lets it go: more came by its source than ever does. */
  readonly held?: true;
  /** Somebody has let it go: it is not held again. */
  readonly released?: true;
}

export interface NextStep {
  readonly kind: StepKind;
  readonly dueAt: number;
  readonly note: string;
  readonly personId: string | null;
  /** The touch of a cadence it is: whoever does it completes that. */
  readonly touch?: { readonly runId: string; readonly n: number };
}

/** What a lead has become, in the book of customers. */
export interface HandedOver {
  readonly companyId: string | null;
  readonly contactId: string | null;
  readonly dealId: string | null;
  readonly at: number;
}

/** A price that was worked out for a lead, as it was: later changes of its worksheet leave it alone. */
export interface Estimate {
  readonly id: string;
  /** Runs through the desk's estimates; versions of one share it. */
  readonly number: string;
  readonly version: number;
  readonly worksheetId: string;
  readonly worksheetVersion: number;
  /** What the worksheet is called. */
  readonly name: string;
  readonly inputs: readonly { readonly key: string; readonly name: string; readonly value: string }[];
  readonly lines: readonly EstimateLine[];
  readonly net: Minor;
  readonly tax: Minor;
  readonly taxName: string;
  readonly total: Minor;
  readonly currency: string;
  readonly terms: string;
  readonly madeAt: number;
  readonly by: string;
  /** The last moment the price holds. */
  readonly validUntil: number;
  readonly file: Attachment | null;
  readonly state: "draft" | "sent" | "accepted" | "declined" | "replaced";
  readonly sentAt: number | null;
  readonly answered: { readonly at: number; readonly name: string } | null;
}

/** What one of ours asked colleagues in a note, and nobody has answered yet. */
export interface Asked {
  readonly noteId: string;
  readonly by: string;
  readonly to: readonly string[];
  readonly text: string;
  readonly at: number;
}

/** The one lead behind one or more inquiries: always equal to the fold of its events. Times are epoch ms. */
export interface Lead {
  readonly id: string;
  /** Number of the last event folded in. */
  readonly seq: number;
  readonly name: string | null;
  readonly emails: readonly string[];
  readonly phones: readonly E164[];
  readonly company: string | null;
  readonly stage: string;
  readonly sourceId: string;
  readonly tags: readonly string[];
  readonly facts: LeadFacts;
  readonly ownerId: string | null;
  readonly creditId: string | null;
  readonly handOff: HandOff | null;
  /** The turn it cost whoever it was offered to last; null when none, or when it was given back. */
  readonly turn: TurnTaken | null;
  /** Who had it last, and when they last did something about it. */
  readonly lastOwner: { readonly personId: string; readonly at: number } | null;
  /** Whose it is while its owner only covers for them. */
  readonly coversFor: string | null;
  /** Who passed on it or let it lapse since it last came in: not asked again. */
  readonly refused: readonly string[];
  readonly bell: Bell | null;
  /** Bells that run for other reasons, one of a kind at most. */
  readonly others: readonly OtherBell[];
  /** Since when its owner has it; null while nobody has. */
  readonly ownedSince: number | null;
  readonly lastTryAt: number | null;
  readonly engaged: Engaged | null;
  readonly promise: PromiseMade | null;
  readonly parked: Parked | null;
  /** Cadences it is in, and the latest it was in. */
  readonly cadences: readonly CadenceRun[];
  /** What people are to do about it beside the next step. */
  readonly tasks: readonly Task[];
  /** Since when they are a customer: not one of the open leads, and still somebody to be there for. */
  readonly customer: { readonly since: number } | null;
  readonly handedOver: HandedOver | null;
  readonly estimates: readonly Estimate[];
  /** Questions to colleagues that are open. */
  readonly asked: readonly Asked[];
  /** Put off in the rounds of a day: it comes again at their end. */
  readonly skipped: { readonly personId: string; readonly at: number; readonly reason: string } | null;
  /** When each wake rule last fired for it. */
  readonly woken: readonly { readonly ruleId: string; readonly at: number }[];
  readonly tries: number;
  readonly reached: boolean;
  /** Tries in a row that reached nobody. */
  readonly fruitless: number;
  readonly nextStep: NextStep | null;
  /** On the manager's list, and when routing is tried again on its own. */
  readonly listed: { readonly reason: string; readonly at: number; readonly retryAt: number | null } | null;
  /** When they last wrote or called without anybody having answered since. */
  readonly replyWaiting: number | null;
  /** When they called and nobody talked to them; cleared by the next try. */
  readonly callBack: number | null;
  readonly inquiries: number;
  /** Leads that may be the same person, and those somebody said are not. */
  readonly maybe: readonly MaybeSame[];
  readonly notSame: readonly string[];
  /** The lead this one was joined to; its inquiries and contact ways are worked there. */
  readonly joinedTo: string | null;
  /** Phone numbers and addresses several people share: they alone do not tell who it is. */
  readonly shared: readonly string[];
  readonly related: readonly Related[];
  /** Ways they asked not to be reached by. */
  readonly stops: readonly Stop[];
  readonly booked: Booked | null;
  /** Messages that wait for their time. */
  readonly scheduled: readonly Scheduled[];
  /** When the latest automatic messages went out, ten at most. */
  readonly automatic: readonly number[];
  /** Where messages do not reach them: nothing goes there on its own. */
  readonly bounces: readonly Bounce[];
  /** What one should know when dialling: personal facts, in a line. */
  readonly pinned: string | null;
  /** The way they last wrote to us. */
  readonly lastWay: "email" | "text" | null;
  /** Made by a test through the real path: marked wherever it is seen, counted nowhere, gone after a day. */
  readonly test: boolean;
  /** Who tests with it: it is offered to nobody else, and nobody else is told. Null when the rules decide. */
  readonly tester: string | null;
  readonly createdAt: number;
  readonly lastActivityAt: number;
  readonly closed: { readonly reason: string; readonly at: number } | null;
  /** When everything that names them will be erased, as long as nobody takes it back. */
  readonly erasing: { readonly dueAt: number } | null;
  /** When it was: what is left names nobody. */
  readonly erased: { readonly at: number } | null;
}

/** The phone numbers and addresses by which an inquiry surely belongs to this lead. */
export function claims(lead: Lead | null): readonly string[] {
  if (!lead || lead.joinedTo) return [];
  if (lead.shared.length === 0) return [...lead.phones, ...lead.emails];
  return [...lead.phones, ...lead.emails].filter((v) => !lead.shared.includes(v));
}

/** Whether an open lead is with nobody: neither owned, offered, listed, parked, nor planned by a person. */
export function isAlone(lead: Lead): boolean {
  return (
    !lead.closed &&
    !lead.customer &&
    !lead.joinedTo &&
    !lead.test &&
    lead.ownerId === null &&
    lead.handOff === null &&
    lead.listed === null &&
    lead.parked === null &&
    (lead.nextStep?.personId ?? null) === null
  );
}

/** Whether a human try is still owed: the bell runs or has rung. */
export function isWaiting(lead: Lead): boolean {
  return !lead.closed && (lead.bell?.state === "waiting" || lead.bell?.state === "rung");
}
