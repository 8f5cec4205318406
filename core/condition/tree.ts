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
  preferred: { name: "preferred way", type: "choice" },
  campaign: { name: "campaign", type: "text" },
  "landing-page": { name: "landing page", type: "text" },
  referrer: { name: "site they came from", type: "text" },
  detail: { name: "source detail", type: "text" },
  value: { name: "value", type: "number" },
  inquiries: { name: "number of inquiries", type: "number" },
  "came-before": { name: "came before", type: "yes-no" },
  tries: { name: "number of tries", type: "number" },
  reached: { name: "was reached", type: "yes-no" },
  tag: { name: "tag", type: "choices" },
  stage: { name: "stage", type: "choice" },
  score: { name: "score", type: "number" },
  credit: { name: "credit", type: "choice" },
  owner: { name: "owner", type: "choice" },
  "first-came": { name: "first came", type: "date" },
  "time-of-day": { name: "time of day", type: "time" },
  weekday: { name: "day of the week", type: "choice" },
  state: { name: "state", type: "choice" },
  cadence: { name: "cadence", type: "choices" },
  age: { name: "days since it came", type: "number" },
  quiet: { name: "days since anything happened", type: "number" },
  untried: { name: "days since the last try", type: "number" },
} as const satisfies Record<string, { name: string; type: FieldType }>;

/** A field of the catalogue, one of the company's own, or what was answered to a question of some form. */
export type FieldKey = keyof typeof FIELDS | `own.${string}` | `answer.${string}`;

/** The question of a form that a field asks for, by the name its answer comes in under; null for other fields. */
export const answerOf = (field: FieldKey): string | null =>
  field.startsWith("answer.") ? field.slice("answer.".length) : null;

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

/** How a field is called in sentences. */
export function fieldName(field: FieldKey): string {
  if (Object.hasOwn(FIELDS, field)) return FIELDS[field as keyof typeof FIELDS].name;
  const answer = answerOf(field);
  return (answer === null ? field.slice(4) : `answer to ${answer}`).replace(/_/g, " ");
}

/** What a field's value is called in sentences: a product by its name, a person by theirs. */
export type Names = (field: FieldKey, value: string) => string;

export type Operator =
  | "equal"
  | "not-equal"
  | "one-of"
  | "contains"
  | "starts-with"
  | "known"
  | "unknown"
  | "at-least"
  | "at-most"
  | "from"
  | "before"
  | "between";

/** A question about one field. Lists in `value` mean any of them; of `between` they are the two ends. */
export interface Test {
  readonly field: FieldKey;
  readonly is: Operator;
  readonly value?: string | number | readonly string[] | undefined;
}

/** A tree of questions: the one condition language of rules, targets, ladders, lists and plans. */
export type Condition =
  | Test
  | { readonly all: readonly Condition[] }
  | { readonly any: readonly Condition[] }
  | { readonly none: readonly Condition[] };

/** Where the answers come from. */
export type Facts = (field: FieldKey) => FieldValue;
