import type { BookingPolicy } from "../booking/free.ts";
import type { Condition } from "../condition/condition.ts";
import type { FactKey, Mapping } from "../intake/mapping.ts";
import type { Attachment, TryChannel } from "../lead/events.ts";
import type { Hours } from "../time/calendar.ts";
import type { AlertMatrix, AlertWay } from "./alerts.ts";
import type { OwnField, TagMeaning } from "./own-fields.ts";
import type { Group, Person, Way } from "./people.ts";

export type Channel = "website" | "ad-form" | "call" | "text" | "email" | "document" | "spreadsheet" | "hand";

export interface Source {
  readonly id: string;
  readonly key: string;
  readonly name: string;
  readonly channel: Channel;
  readonly state: "draft" | "live" | "paused";
  /** Our own number or address that this source listens on and answers from. */
  readonly line?: string;
  /** Lines it had before: still listened on, so that answers to old messages find their way. */
  readonly formerLines?: readonly string[];
  /** Standard Webhooks secret; deliveries must be signed with it when present. */
  readonly signingSecret?: string;
  readonly mapping: Mapping;
  /** The form that this website source shows; none when the site brings its own. */
  readonly form?: WebForm;
  /** The form of the ad platform that this source is connected to. */
  readonly adForm?: AdFormLink;
  /** Whose line it is; null or absent for the source's own. */
  readonly lineOwnerId?: string | null;
  /** How it answers by itself; the company's usual reply when left out. */
  readonly reply?: ReplyPolicy;
}

/** One question of a website form. */
export interface FormField {
  /** The name its answer arrives under; what it becomes is the mapping's business. */
  readonly name: string;
  readonly label: string;
  readonly type: "text" | "email" | "tel" | "area" | "choice" | "consent";
  readonly required: boolean;
  readonly choices: readonly FormChoice[];
  readonly help?: string;
}

/** A choice of a form, and what choosing it sets. */
export interface FormChoice {
  readonly value: string;
  readonly label: string;
  readonly sets?: { readonly tag?: string; readonly product?: string };
}

export interface WebForm {
  readonly title: string;
  readonly intro: string;
  readonly button: string;
  readonly thanks: string;
  readonly fields: readonly FormField[];
  /** Sites that may show the form's own page in a frame, as `https://www.example.com`; none when left out. */
  readonly frames?: readonly string[];
}

/** Where a source hangs on the ad platform, by the platform's names and ids. */
export interface AdFormLink {
  readonly accountId: string;
  readonly accountName: string;
  readonly pageName: string;
  readonly formId: string;
  readonly formName: string;
  /** The form's questions as last fetched: a change is noticed by comparing. */
  readonly questions: readonly { readonly field: string; readonly label: string }[];
}

export interface Product {
  readonly key: string;
  readonly name: string;
  /** Typical value of one sale, in the company's currency. */
  readonly value: number;
  readonly alsoCalled: readonly string[];
}

export interface Territory {
  readonly key: string;
  readonly name: string;
  readonly zone: string;
  readonly country: "US" | "CA";
  readonly language: string;
  readonly areaCodes: readonly string[];
  /** Beginnings of postal codes, upper case without spaces. */
  readonly postalPrefixes: readonly string[];
}

/** To whom a rule offers. */
export type RuleTarget =
  | { readonly person: string }
  /** `way` when the rule chooses otherwise than the group usually does. */
  | { readonly group: string; readonly way?: Way | undefined }
  /** Whoever had the lead last, when that is no more than so many days ago. */
  | { readonly formerWithin: number }
  /** Whoever the credit lies with. */
  | { readonly credit: true };

/** What happens when nobody a rule names can have the lead, or all have passed or let it lapse. */
export type AfterRule = "standby" | "list" | "onward";

/** One routing rule: what it fits, to whom it offers, and how long each has to take it. */
export interface Rule {
  readonly id: string;
  readonly name: string;
  readonly when: Condition | null;
  readonly to: RuleTarget;
  /** Minutes each person has to take it, by `clock`. */
  readonly offerMinutes: number;
  /** The desk's open minutes, unless it says plain ones. */
  readonly clock?: "desk" | "wall" | undefined;
  /** Standby when left out. */
  readonly otherwise?: AfterRule | undefined;
  /** Switched off: kept, but not asked. */
  readonly off?: boolean | undefined;
  /** Do not ask whether product, place and language suit the person: somebody chose the group by hand. */
  readonly anyFit?: boolean;
}

/** What is settled before any rule is asked. */
export interface SetAside {
  /** A repeat inquiry of a closed lead goes back to whoever had it. An open lead always stays with its owner. */
  readonly keepOwner: boolean;
  /** People who share a phone number, or are entered as belonging together, go to one salesperson. */
  readonly household: boolean;
}

/** The rules of routing as one thing that is drafted and published. */
export interface RuleSet {
  readonly rules: readonly Rule[];
  readonly setAside: SetAside;
}

/** Where routing stands: which version is live, and the draft that waits, if one does. */
export interface RoutingState {
  /** Grows with each publishing. */
  readonly version: number;
  readonly publishedAt: number;
  readonly by: string | null;
  readonly draft: (RuleSet & { readonly at: number; readonly by: string }) | null;
}

/** What becomes of a turn in a rotation that came to nothing. */
export interface Turns {
  /** Whoever passes has the next turn again, or has had it. */
  readonly pass: "back" | "kept";
  readonly lapse: "back" | "kept";
  /** Closing a lead with one of these reasons gives its owner the turn back. */
  readonly badReasons: readonly string[];
}

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
  /** Of parking: into which slow plan; none when left out. */
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

/** A long, slow cadence for parked leads: a message every so many days until something happens. */
export interface SlowPlan {
  readonly id: string;
  readonly name: string;
  readonly everyDays: number;
  /** Sent at most so often; after that only the next look is left. */
  readonly times: number;
  /** Null sends nothing: it only waits. */
  readonly templateId: string | null;
  /** A person looks at the lead again after so many days. */
  readonly lookAfterDays: number;
}

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

/** The summary managers get as the desk opens. */
export interface MorningPolicy {
  readonly on: boolean;
  readonly ways: readonly ("email" | "chat")[];
}

/** When a next step falls due: some time on, moved into open hours, or to a part of the day. */
export interface StepDelay {
  readonly days?: number;
  readonly hours?: number;
  readonly skipWeekend?: boolean;
  /** Desk wall time `HH:MM`, so that tries fall at different times of day. */
  readonly at?: string;
}

/** What an outcome of a try means and what it sets as the next step. */
export interface OutcomePolicy {
  readonly key: string;
  readonly name: string;
  /** A two-way contact has taken place. */
  readonly reached: boolean;
  readonly next:
    | (StepDelay & {
        readonly kind: StepKind;
        readonly note: string;
        /** After the first, second … try in a row that reached nobody; when left out every try is like the first. */
        readonly series?: readonly StepDelay[];
        /** What happens after the last of the series. */
        readonly last?: {
          readonly does: "list" | "close" | "park";
          readonly reason: string;
          readonly planId?: string;
        };
      })
    | null;
}

export type StepKind = "call" | "text" | "email" | "task";

/** How an automatic first reply goes out by one channel. */
export interface ReplyWay {
  readonly on: boolean;
  /** The first whose condition holds is sent. */
  readonly choices: readonly { readonly when: Condition | null; readonly templateId: string }[];
  /** Plain minutes after the inquiry; 0 is at once. */
  readonly delayMinutes: number;
  /** At any hour, since they have just written; or only in the hours automatic messages may go. */
  readonly hours: "any" | "allowed";
  /** Our line or address it comes from; null for the source's own, else the company's. */
  readonly from: string | null;
}

export interface ReplyPolicy {
  readonly email: ReplyWay;
  readonly text: ReplyWay;
}

export interface Replies {
  /** For every source that has none of its own. */
  readonly usual: ReplyPolicy;
  /** What somebody gets who inquires again within so many hours; null is nothing. */
  readonly again: { readonly hours: number; readonly email: string | null; readonly text: string | null };
}

/** What keeps automatic messages within bounds. */
export interface Restraint {
  /** Wall time `HH:MM` at the lead's place between which texts may go and calls be made by themselves; end excluded. */
  readonly allowed: { readonly from: string; readonly to: string };
  /** Automatic messages one lead gets within a day at most, over all plans and channels. */
  readonly perDay: number;
  /** First replies to people never written to, an hour and source; learned from its rhythm when null or left out. */
  readonly perSourceHour?: number | null;
  readonly words: {
    readonly stop: readonly string[];
    readonly start: readonly string[];
    readonly help: readonly string[];
  };
  /** What is answered to those words, in the lead's language or in English. Liquid, as in templates. */
  readonly answers: Readonly<Record<"stop" | "start" | "help", Readonly<Record<string, string>>>>;
}

export interface Template {
  readonly id: string;
  readonly name: string;
  readonly channel: "email" | "text";
  /** Per language; `en` is the fallback. */
  readonly texts: Readonly<Record<string, { readonly subject?: string; readonly body: string }>>;
  /** Files sent along with a mail. */
  readonly attachments?: readonly Attachment[];
}

/** Everything the company has decided, as one immutable value; `version` grows with every change. */
export interface Policies {
  readonly version: number;
  readonly company: {
    readonly name: string;
    readonly email: string;
    readonly textLine: string;
    readonly currency: string;
  };
  readonly desk: Hours;
  readonly products: readonly Product[];
  /** Fields of the company's own, and what its tags mean. */
  readonly fields: readonly OwnField[];
  readonly tags: readonly TagMeaning[];
  /** How much each known fact adds to how complete a lead is. */
  readonly completeness: readonly { readonly fact: FactKey | "territory"; readonly weight: number }[];
  readonly territories: readonly Territory[];
  readonly rules: readonly Rule[];
  readonly setAside: SetAside;
  readonly routing: RoutingState;
  readonly turns: Turns;
  readonly standby: readonly string[];
  readonly targets: readonly Target[];
  readonly ladders: readonly Ladder[];
  readonly late: LatePolicy;
  /** Which ways of trying answer a bell. */
  readonly counts: readonly TryChannel[];
  /** By which country's and region's holidays the desk closes: as date-holidays names them. */
  readonly holidays: { readonly country: string; readonly region: string | null } | null;
  readonly slowPlans: readonly SlowPlan[];
  readonly wakes: readonly WakeRule[];
  readonly morning: MorningPolicy;
  readonly outcomes: readonly OutcomePolicy[];
  readonly templates: readonly Template[];
  readonly replies: Replies;
  readonly restraint: Restraint;
  /** How leads book calls; `people` are asked while a lead has no owner. */
  readonly booking: BookingPolicy & { readonly people: readonly string[] };
  /** How people hear of things, unless they have chosen otherwise. */
  readonly alerts: AlertMatrix;
  readonly passReasons: readonly string[];
  readonly stages: readonly string[];
  readonly closeReasons: readonly string[];
  /** Sites of the company's own: where a click may be followed, with consent. */
  readonly sites: readonly string[];
  /** Team channel in chat that hears of bells and of leads nobody could take. */
  readonly teamChat: string;
}

/** Policies together with who there is and where inquiries come from. */
export interface Setup {
  readonly policies: Policies;
  readonly people: readonly Person[];
  readonly groups: readonly Group[];
  readonly sources: readonly Source[];
}

const people = new WeakMap<Setup, Map<string, Person>>();

/** The person with that id, or undefined. */
export function personOf(setup: Setup, id: string | null | undefined): Person | undefined {
  if (!id) return undefined;
  let known = people.get(setup);
  if (!known) {
    known = new Map(setup.people.map((p) => [p.id, p]));
    people.set(setup, known);
  }
  return known.get(id);
}

/** A name to say, also when the person is gone. */
export function nameOf(setup: Setup, id: string | null | undefined): string {
  return personOf(setup, id)?.name ?? "somebody no longer here";
}

const LANGUAGE_NAMES = new Intl.DisplayNames("en", { type: "language" });

/** What keys are called in sentences; the key itself when there is nothing of that name any more. */
export const valueNames = {
  product: (setup: Setup, key: string) => setup.policies.products.find((p) => p.key === key)?.name ?? key,
  territory: (setup: Setup, key: string) =>
    setup.policies.territories.find((t) => t.key === key)?.name ?? key,
  language: (key: string) => (/^[a-z]{2,3}$/.test(key) ? (LANGUAGE_NAMES.of(key) ?? key) : key),
} as const;
