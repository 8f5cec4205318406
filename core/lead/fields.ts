import {
  answerOf,
  type Facts,
  FIELDS,
  type FieldKey,
  type FieldType,
  type FieldValue,
  fieldName,
  type Names,
  OPERATORS,
  type Operator,
} from "../condition/tree.ts";
import { planOf } from "../policy/cadence.ts";
import { guessFact, isEnvelope, isTrail } from "../policy/field-names.ts";
import type { OwnFieldType, OwnValue } from "../policy/own-fields.ts";
import { languagesOf, type Setup, valueNames } from "../policy/setup.ts";
import { stagesOf } from "../policy/stages.ts";
import { clockTime, localDate, weekdayName } from "../time/words.ts";
import { CONTACT_WAYS } from "../vocabulary.ts";
import type { Lead } from "./lead.ts";
import { scoreOf } from "./qualify.ts";
import { type Place, placeOf } from "./queue.ts";

const DAY = 86_400_000;

/** Where a lead can stand, in words. */
export const STATES: Readonly<Record<Place["place"], string>> = {
  answer: "to be answered now",
  rung: "rung",
  again: "to be tried again",
  step: "with a next step",
  idle: "without a next step",
  parked: "parked",
  customer: "customer",
  closed: "closed",
};

export const WEEKDAYS = [
  "Monday",
  "Tuesday",
  "Wednesday",
  "Thursday",
  "Friday",
  "Saturday",
  "Sunday",
] as const;

const OWN_TYPES: Readonly<Record<OwnFieldType, FieldType>> = {
  text: "text",
  link: "text",
  birthday: "text",
  number: "number",
  money: "number",
  date: "date",
  "yes-no": "yes-no",
  choice: "choice",
  choices: "choices",
};

/** What kind of answer a field gives, as far as the setup knows it; null when there is no such field. */
export function fieldType(field: FieldKey, setup: Setup): FieldType | null {
  if (Object.hasOwn(FIELDS, field)) return FIELDS[field as keyof typeof FIELDS].type;
  if (answerOf(field) !== null) return "text";
  const own = setup.policies.fields.find((f) => `own.${f.key}` === field);
  return own ? OWN_TYPES[own.type] : null;
}

export interface CatalogueField {
  readonly key: FieldKey;
  readonly name: string;
  readonly type: FieldType;
  readonly operators: readonly Operator[];
  /** What may be chosen; empty where anything may be written. */
  readonly choices: readonly { readonly value: string; readonly label: string }[];
}

/** Every field an editor may offer, with the questions that suit it and what may be chosen. */
export function catalogue(setup: Setup): CatalogueField[] {
  const { policies } = setup;
  const named = (list: readonly { readonly key: string; readonly name: string }[]) =>
    list.map(({ key, name }) => ({ value: key, label: name }));
  const plain = (list: readonly string[]) => list.map((value) => ({ value, label: value }));
  const people = setup.people.map(({ id, name }) => ({ value: id, label: name }));
  const yesNo = plain(["yes", "no"]);
  const choices: Partial<Record<FieldKey, CatalogueField["choices"]>> = {
    source: named(setup.sources),
    channel: plain([...new Set(setup.sources.map((s) => s.channel))]),
    product: named(policies.products),
    territory: named(policies.territories),
    country: plain([...new Set(policies.territories.map((t) => t.country))]),
    language: languagesOf(setup).map((value) => ({ value, label: valueNames.language(value) })),
    tag: plain([
      ...new Set([...policies.tags.map((t) => t.name), ...setup.sources.flatMap((s) => s.mapping.tags)]),
    ]),
    stage: named(stagesOf(policies, "lead")),
    credit: people,
    owner: people,
    weekday: plain(WEEKDAYS),
    state: Object.entries(STATES).map(([value, label]) => ({ value, label })),
    cadence: policies.cadences.map((c) => ({ value: c.id, label: planOf(c).name })),
    preferred: plain(CONTACT_WAYS),
  };
  const answers = [...questions(setup)].map(([name, choices]) => {
    const key: FieldKey = `answer.${name}`;
    return { key, name: fieldName(key), choices };
  });
  const own = policies.fields.map((f) => ({
    key: `own.${f.key}` as FieldKey,
    name: f.name.toLowerCase(),
    choices: plain(f.choices),
  }));
  return [
    ...Object.entries(FIELDS).map(([key, { name }]) => ({
      key: key as FieldKey,
      name,
      choices: choices[key as FieldKey] ?? [],
    })),
    ...own,
    ...answers,
  ].map((field) => {
    const type = fieldType(field.key, setup)!;
    return { ...field, type, operators: OPERATORS[type], choices: type === "yes-no" ? yesNo : field.choices };
  });
}

/** Questions whose answers stay answers, as far as forms and mappings name them, with what can be chosen where all of it can. */
function questions(setup: Setup): ReadonlyMap<string, CatalogueField["choices"]> {
  const found = new Map<string, CatalogueField["choices"]>();
  for (const { form, adForm, mapping } of setup.sources) {
    const asked = [
      ...(form?.fields ?? []).map(({ name, choices }) => ({ name, choices })),
      ...(adForm?.questions ?? []).map(({ field }) => ({ name: field, choices: [] })),
      ...Object.keys(mapping.fields).map((name) => ({ name, choices: [] })),
    ];
    for (const { name, choices } of asked) {
      const to = mapping.fields[name] ? mapping.fields[name].to : guessFact(name);
      if ((to && to !== "answer") || isEnvelope(name) || isTrail(name) || found.has(name)) continue;
      found.set(
        name,
        choices.map(({ value, label }) => ({ value, label })),
      );
    }
  }
  return found;
}

/**
 * Finds a field a condition may ask about; null when there is none. A question that no form asks any more may still be
 * asked for: leads have answered it.
 */
export function fieldFinder(setup: Setup): (field: FieldKey) => CatalogueField | null {
  const fields = new Map(catalogue(setup).map((f) => [f.key, f]));
  return (field) => {
    const known = fields.get(field);
    if (known || !answerOf(field)) return known ?? null;
    return { key: field, name: fieldName(field), type: "text", operators: OPERATORS.text, choices: [] };
  };
}

/** Names as a catalogue has them; what it does not know is said as it is written. */
export function namesFrom(fields: readonly Pick<CatalogueField, "key" | "choices">[]): Names {
  const known = new Map(
    fields.flatMap((f) => f.choices.map((c) => [`${f.key}=${c.value.toLowerCase()}`, c.label])),
  );
  return (field, value) => known.get(`${field}=${value.toLowerCase()}`) ?? value;
}

const remembered = new WeakMap<Setup, Names>();

/** How a setup calls values. */
export function namesIn(setup: Setup): Names {
  let names = remembered.get(setup);
  if (!names) {
    names = namesFrom(catalogue(setup));
    remembered.set(setup, names);
  }
  return names;
}

/** How the catalogue's fields are read off a lead at `now` (epoch ms). */
export function factsOf(lead: Lead, setup: Setup, now: number): Facts {
  const yesNo = (is: boolean) => (is ? "yes" : "no");
  const zone = setup.policies.desk.zone;
  // Asked by many rules, and slow to make: made once, when first asked for.
  let time: string | null = null;
  const facts: Facts = (field) => {
    switch (field) {
      case "source":
        return setup.sources.find((s) => s.id === lead.sourceId)?.key ?? null;
      case "channel":
        return setup.sources.find((s) => s.id === lead.sourceId)?.channel ?? null;
      case "product":
        return lead.facts.product;
      case "territory":
        return lead.facts.territory;
      case "country":
        return setup.policies.territories.find((t) => t.key === lead.facts.territory)?.country ?? null;
      case "language":
        return lead.facts.language;
      case "postal-code":
        return lead.facts.postalCode;
      case "company":
        return lead.company;
      case "message":
        return lead.facts.message;
      case "phone":
        return lead.phones;
      case "email":
        return lead.emails;
      case "preferred":
        return lead.facts.preferred;
      case "campaign":
        return lead.facts.answers.utm_campaign ?? null;
      case "landing-page":
        return lead.facts.answers.landing_page ?? lead.facts.answers.page ?? null;
      case "referrer":
        return lead.facts.answers.referrer ?? null;
      case "detail":
        return lead.facts.detail;
      case "value":
        return lead.facts.value;
      case "inquiries":
        return lead.inquiries;
      case "came-before":
        return yesNo(lead.inquiries > 1);
      case "tries":
        return lead.tries;
      case "reached":
        return yesNo(lead.reached);
      case "tag":
        return lead.tags;
      case "stage":
        return lead.stage;
      case "score":
        // What questions are asked does not hang on the score they make.
        return scoreOf(setup, lead, (asked) => (asked === "score" ? null : facts(asked)))?.points ?? null;
      case "credit":
        return lead.creditId;
      case "owner":
        return lead.ownerId;
      case "first-came":
        return localDate(lead.createdAt, zone);
      case "time-of-day":
        time ??= clockTime(now, zone);
        return time;
      case "weekday":
        return weekdayName(now, zone);
      case "state":
        return placeOf(lead).place;
      case "cadence":
        return lead.cadences.filter((run) => !run.ended).map((run) => run.cadenceId);
      case "age":
        return daysSince(lead.createdAt, now);
      case "quiet":
        return daysSince(lead.lastActivityAt, now);
      case "untried":
        return lead.lastTryAt === null ? null : daysSince(lead.lastTryAt, now);
      default: {
        const answer = answerOf(field);
        if (answer !== null)
          return Object.hasOwn(lead.facts.answers, answer) ? lead.facts.answers[answer]! : null;
        return ownFact(lead.facts.own[field.slice(4)]);
      }
    }
  };
  return facts;
}

/** Whole days of twenty-four hours from one time to another (epoch ms). */
export const daysSince = (at: number, now: number): number => Math.floor((now - at) / DAY);

function ownFact(value: OwnValue | undefined): FieldValue {
  if (value === undefined) return null;
  return typeof value === "boolean" ? (value ? "yes" : "no") : value;
}
