import type { Hours } from "../time/calendar.ts";
import type { TryChannel } from "../vocabulary.ts";
import type { AlertMatrix, AlertWords } from "./alerts.ts";
import type { Replies, Restraint, Template } from "./answering.ts";
import type { BackupPolicy } from "./backups.ts";
import type { Ladder, LatePolicy, MorningPolicy, Target } from "./bells.ts";
import type { Cadence } from "./cadence.ts";
import type { BookingPolicy, OutcomePolicy } from "./calls.ts";
import type { Company } from "./company.ts";
import type { Hook } from "./hooks.ts";
import type { LetterPolicy } from "./letter.ts";
import type { FactKey } from "./mapping.ts";
import type { Product, Territory } from "./market.ts";
import type { OwnField, TagMeaning } from "./own-fields.ts";
import type { WakeRule } from "./parking.ts";
import type { Group, Person } from "./people.ts";
import type { PrivacyPolicy } from "./privacy.ts";
import type { QuestionSet } from "./questions.ts";
import type { RoutingState, Rule, SetAside, Turns } from "./routing.ts";
import type { Source } from "./source.ts";
import type { EndReason, Stage } from "./stages.ts";
import type { DocumentLayout, Worksheet } from "./worksheet.ts";

/** Everything the company has decided, as one immutable value; `version` grows with every change. */
export interface Policies {
  readonly version: number;
  readonly company: Company;
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
  /** Plans of touches over time. */
  readonly cadences: readonly Cadence[];
  readonly wakes: readonly WakeRule[];
  readonly morning: MorningPolicy;
  readonly backups: BackupPolicy;
  /** How long what names somebody is kept. */
  readonly privacy: PrivacyPolicy;
  /** The weekly letter of figures. */
  readonly letter: LetterPolicy;
  readonly outcomes: readonly OutcomePolicy[];
  readonly templates: readonly Template[];
  readonly replies: Replies;
  readonly restraint: Restraint;
  /** How leads book calls; `people` are asked while a lead has no owner. */
  readonly booking: BookingPolicy & { readonly people: readonly string[] };
  /** How people hear of things, unless they have chosen otherwise. */
  readonly alerts: AlertMatrix;
  /** What an alert says in the company's own words, with merge fields; what is left out says the usual. */
  readonly alertWords: AlertWords;
  readonly passReasons: readonly string[];
  /** What leads and deals go through, in order. */
  readonly stages: readonly Stage[];
  /** Why they end. */
  readonly reasons: readonly EndReason[];
  /** What is asked to qualify a lead. */
  readonly questionSets: readonly QuestionSet[];
  /** How estimates are reckoned. */
  readonly worksheets: readonly Worksheet[];
  /** What their documents look like. */
  readonly layout: DocumentLayout;
  /** Other systems that hear of what happens. */
  readonly hooks: readonly Hook[];
  /** Why a lead is moved to somebody by hand: what is chosen from, beside words of one’s own. */
  readonly giveReasons: readonly string[];
  /** Sites of the company's own: where a click may be followed, with consent. */
  readonly sites: readonly string[];
  /** First steps somebody has seen to, or does without. */
  readonly settled: readonly string[];
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

/** The settled steps with one put among them or taken out. */
export function withStep(settled: readonly string[], step: string, isSettled: boolean): readonly string[] {
  if (settled.includes(step) === isSettled) return settled;
  return isSettled ? [...settled, step] : settled.filter((s) => s !== step);
}

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

/** Languages that occur: the company's own first, then what anybody speaks or something is written in. */
export function languagesOf({ policies, people: all }: Setup): readonly string[] {
  return [
    ...new Set([
      ...policies.company.languages,
      ...policies.territories.map((t) => t.language),
      ...policies.templates.flatMap((t) => Object.keys(t.texts)),
      ...all.flatMap((p) => p.languages),
    ]),
  ];
}

const LANGUAGE_NAMES = new Intl.DisplayNames("en", { type: "language" });

/** What keys are called in sentences; the key itself when there is nothing of that name any more. */
export const valueNames = {
  product: (setup: Setup, key: string) => setup.policies.products.find((p) => p.key === key)?.name ?? key,
  territory: (setup: Setup, key: string) =>
    setup.policies.territories.find((t) => t.key === key)?.name ?? key,
  language: (key: string) => (/^[a-z]{2,3}$/.test(key) ? (LANGUAGE_NAMES.of(key) ?? key) : key),
} as const;
