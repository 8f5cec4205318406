import type { Lead } from "../lead/lead.ts";
import type { OwnFieldType, OwnValue } from "../policy/own-fields.ts";
import type { Setup } from "../policy/policy.ts";
import { clockTime, localDate, weekdayName } from "../time/words.ts";
import type { Facts } from "./condition.ts";
import type { Operator } from "./operators.ts";

export type FieldValue = string | number | readonly string[] | null;

/** What kind of answer a field gives; it decides which questions can be asked. */
export type FieldType = "choice" | "choices" | "text" | "phone" | "number" | "date" | "time" | "yes-no";

/** The catalogue of what can be asked about a lead: it feeds the evaluator and the editors alike. */
export const FIELDS = {
  source: { name: "source", type: "choice" },
  channel: { name: "channel", type: "choice" },
  product: { name: "product", type: "choice" },
  territory: { name: "territory", type: "choice" },
  country: { name: "country", type: "choice" },
  language: { name: "language", type: "choice" },
  "postal-code": { name: "postal code", type: "text" },
  company: { name: "company", type: "text" },
  message: { name: "message", type: "text" },
  phone: { name: "phone", type: "phone" },
  email: { name: "email", type: "text" },
  value: { name: "value", type: "number" },
  inquiries: { name: "number of inquiries", type: "number" },
  "came-before": { name: "came before", type: "yes-no" },
  tries: { name: "number of tries", type: "number" },
  reached: { name: "was reached", type: "yes-no" },
  tag: { name: "tag", type: "choices" },
  stage: { name: "stage", type: "choice" },
  credit: { name: "credit", type: "choice" },
  owner: { name: "owner", type: "choice" },
  "first-came": { name: "first came", type: "date" },
  "time-of-day": { name: "time of day", type: "time" },
  weekday: { name: "day of the week", type: "choice" },
} as const satisfies Record<string, { name: string; type: FieldType }>;

/** A field of the catalogue, or one of the company's own. */
export type FieldKey = keyof typeof FIELDS | `own.${string}`;

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

/** Which questions suit a field of each type. */
export const OPERATORS: Readonly<Record<FieldType, readonly Operator[]>> = {
  choice: ["equal", "not-equal", "one-of", "known", "unknown"],
  choices: ["equal", "not-equal", "one-of", "known", "unknown"],
  text: ["contains", "starts-with", "equal", "not-equal", "known", "unknown"],
  phone: ["starts-with", "known", "unknown"],
  number: ["at-least", "at-most", "equal", "not-equal", "known", "unknown"],
  date: ["from", "before", "known", "unknown"],
  time: ["between"],
  "yes-no": ["equal"],
};

/** What kind of answer a field gives, as far as the setup knows it; null when there is no such field. */
export function fieldType(field: FieldKey, setup: Setup): FieldType | null {
  if (Object.hasOwn(FIELDS, field)) return FIELDS[field as keyof typeof FIELDS].type;
  const own = setup.policies.fields.find((f) => `own.${f.key}` === field);
  return own ? OWN_TYPES[own.type] : null;
}

/** How a field is called in sentences. */
export function fieldName(field: FieldKey): string {
  return Object.hasOwn(FIELDS, field)
    ? FIELDS[field as keyof typeof FIELDS].name
    : field.slice(4).replace(/_/g, " ");
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
    language: LANGUAGES,
    tag: plain([
      ...new Set([...policies.tags.map((t) => t.name), ...setup.sources.flatMap((s) => s.mapping.tags)]),
    ]),
    stage: plain(policies.stages),
    credit: people,
    owner: people,
    weekday: plain(WEEKDAYS),
  };
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
  ].map((field) => {
    const type = fieldType(field.key, setup)!;
    return { ...field, type, operators: OPERATORS[type], choices: type === "yes-no" ? yesNo : field.choices };
  });
}

const LANGUAGES = [
  { value: "en", label: "English" },
  { value: "fr", label: "French" },
  { value: "es", label: "Spanish" },
] as const;

/** What a field's value is called in sentences: a product by its name, a person by theirs. */
export type Names = (field: FieldKey, value: string) => string;

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
  return (field) => {
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
      default:
        return ownFact(lead.facts.own[field.slice(4)]);
    }
  };
}

function ownFact(value: OwnValue | undefined): FieldValue {
  if (value === undefined) return null;
  return typeof value === "boolean" ? (value ? "yes" : "no") : value;
}
