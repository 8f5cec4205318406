/** Facts every lead can have, in the order in which editors offer them. */
export const FACTS = {
  name: "Name",
  first_name: "First name",
  last_name: "Family name",
  email: "Email",
  phone: "Phone",
  company: "Company",
  product: "Product",
  message: "What they wrote",
  address: "Address",
  postal_code: "Postal code",
  language: "Language",
  preferred: "Preferred way",
  call_when: "When to call them",
  tag: "Tag",
  detail: "Source detail",
} as const;

export type BuiltInFact = keyof typeof FACTS;

/** Which fact of ours a field of theirs becomes; own fields are `own.key`. */
export type FactKey = BuiltInFact | `own.${string}`;

export const PHONE_KINDS = ["mobile", "home", "work", "other"] as const;
export type PhoneKind = (typeof PHONE_KINDS)[number];

/** What happens to one field of theirs. `answer` keeps it as said, under its own name. */
export interface FieldMapping {
  readonly to: FactKey | "answer";
  /** For a phone field: what kind of phone it is. */
  readonly kind?: PhoneKind;
  /** Their words in ours: `{ "oui": "yes" }`. Compared without case; others pass unchanged. */
  readonly translate?: Readonly<Record<string, string>>;
  /** For a whole name: which part stands first. Written as `given family` when taken in. */
  readonly order?: "family-first";
}

/** Several fields of theirs joined to one fact. */
export interface Join {
  readonly from: readonly string[];
  readonly between: string;
  readonly to: FactKey;
}

/** How a source's fields become facts. `version` grows with every change that is put in force. */
export interface Mapping {
  readonly version: number;
  readonly fields: Readonly<Record<string, FieldMapping>>;
  readonly joins: readonly Join[];
  /** What every inquiry of this source gets when it does not say so itself. */
  readonly constants: Readonly<Partial<Record<FactKey, string>>>;
  readonly tags: readonly string[];
}

export const NO_MAPPING: Mapping = { version: 1, fields: {}, joins: [], constants: {}, tags: [] };

/** A mapping that only names facts: the short way to write one down. */
export function mapTo(
  facts: Readonly<Record<string, FactKey>>,
  more: Partial<Omit<Mapping, "fields">> = {},
): Mapping {
  const fields = Object.fromEntries(Object.entries(facts).map(([field, to]) => [field, { to }]));
  return { ...NO_MAPPING, ...more, fields };
}
