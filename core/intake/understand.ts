import { toEmail } from "../contact/email.ts";
import { type E164, toE164 } from "../contact/phone.ts";
import type { InquiryFacts } from "../lead/inquiry.ts";
import { guessFact, isEnvelope, SUBMISSION } from "../policy/field-names.ts";
import type { BuiltInFact, FactKey, FieldMapping, PhoneKind } from "../policy/mapping.ts";
import type { Product } from "../policy/market.ts";
import { type OwnValue, readOwnValue } from "../policy/own-fields.ts";
import type { Policies } from "../policy/setup.ts";
import type { Source } from "../policy/source.ts";
import { CONTACT_WAYS } from "../vocabulary.ts";
import type { Fields } from "./fields.ts";
import { findTerritory } from "./territory.ts";

export type Understood =
  | { readonly ok: true; readonly facts: InquiryFacts }
  | { readonly ok: false; readonly reason: string; readonly unread: readonly string[] };

/** The sender's own number for this submission, by which a repeat is recognised; null when it has none. */
export function submissionId(fields: Fields): string | null {
  for (const [name, value] of Object.entries(fields))
    if (value && SUBMISSION.includes(name.toLowerCase())) return value;
  return null;
}

/** What was said for each fact, with how its field was mapped. */
type Said = Map<
  FactKey,
  { readonly value: string; readonly by: FieldMapping | null; readonly field: string }[]
>;

/** What a person corrects before taking an inquiry in, by the names guesses know. */
export const CORRECTED = ["name", "phone", "email", "company", "product", "postal_code", "message"] as const;
export type Correctable = (typeof CORRECTED)[number];

/** What was said for the facts a person would correct, as it was written, whether or not it can be read. Never throws. */
export function asWritten(source: Source, fields: Fields): Readonly<Partial<Record<Correctable, string>>> {
  const said = readFields(source, fields, {});
  const out: Partial<Record<Correctable, string>> = {};
  for (const key of CORRECTED) {
    const values = said.get(key)?.map((s) => s.value) ?? [];
    const value = key === "name" ? nameOf(said) : key === "message" ? values.join("\n") : values[0];
    if (value) out[key] = value;
  }
  const parts = [said.get("first_name"), said.get("last_name")].flatMap((s) => s?.[0]?.value ?? []);
  return out.name || parts.length === 0 ? out : { ...out, name: parts.join(" ") };
}

/**
 * Map named answers to facts by the source's mapping, guessing what it leaves out. Fails, with a sentence
 * for a person, when there is no way to reach anybody: then the inquiry waits in quarantine. Somebody of ours
 * writing by hand may know no more than a name. Never throws.
 */
export function understand(source: Source, policies: Policies, fields: Fields): Understood {
  const answers: Record<string, string> = {};
  const said = readFields(source, fields, answers);
  const all = (key: FactKey) => said.get(key)?.map((s) => s.value) ?? [];
  const first = (key: FactKey) => said.get(key)?.[0]?.value ?? null;
  const unread: string[] = [];
  const emails = readAll(all("email"), toEmail, unread);
  const { country } = policies.company;
  const phones = readAll(all("phone"), (text) => toE164(text, country), unread);
  const name = nameOf(said) ?? ([first("first_name"), first("last_name")].filter(Boolean).join(" ") || null);
  if (emails.length === 0 && phones.length === 0 && !(source.channel === "hand" && name))
    return {
      ok: false,
      reason: unreachable([...all("email"), ...all("phone")], Object.keys(fields)),
      unread,
    };
  const product = findProduct(policies, first("product"));
  if (!product && first("product")) answers.product = first("product")!;
  const postalCode =
    first("postal_code")?.slice(0, 40).toUpperCase().replace(/\s+/g, "").slice(0, 12) ?? null;
  const territory = findTerritory(policies.territories, postalCode, phones);
  return {
    ok: true,
    facts: {
      name: name && shortened(name),
      emails: emails.slice(0, MOST_WAYS),
      phones: phones.slice(0, MOST_WAYS),
      company: shortened(first("company")),
      product: product?.key ?? null,
      value: product?.value ?? null,
      message: all("message").join("\n") || null,
      postalCode,
      territory: territory?.key ?? null,
      zone: territory?.zone ?? null,
      language: first("language")?.slice(0, 2).toLowerCase() ?? territory?.language ?? null,
      answers,
      tags: tagsOf(source, all("tag")),
      ...rareFacts(said, policies, answers),
      ...consentsOf(source, fields),
      ...(unread.length > 0 && { unread: unread.slice(0, MOST_WAYS) }),
    },
  };
}

/** What a form asked them to agree to, as it was worded when they sent it: the form may be changed later. */
function consentsOf({ form }: Source, fields: Fields): Pick<InquiryFacts, "consents"> {
  const asked = form?.fields.filter((f) => f.type === "consent" && fields[f.name]) ?? [];
  const consents = asked.map(({ name, label }) => ({ wording: label, said: shown(fields[name]!) }));
  return consents.length > 0 ? { consents } : {};
}

/** Everything that can be read, once; what can't goes to `unread`, as it was written. */
function readAll(
  written: readonly string[],
  read: (text: string) => string | null,
  unread: string[],
): readonly string[] {
  return distinct(
    written.map((text) => {
      const value = read(text);
      if (!value && text.trim()) unread.push(shown(text.trim()));
      return value;
    }),
  );
}

/** So much of what somebody wrote is shown where it can't be read. */
const shown = (text: string) => (text.length > 60 ? `${text.slice(0, 57)}…` : text);

function readFields(source: Source, fields: Fields, answers: Record<string, string>): Said {
  const { mapping } = source;
  const said: Said = new Map();
  const say = (key: FactKey, value: string, by: FieldMapping | null, field: string) => {
    const known = said.get(key);
    if (known) known.push({ value, by, field });
    else said.set(key, [{ value, by, field }]);
  };
  const joined = mapping.joins.length > 0 ? new Set(mapping.joins.flatMap((j) => j.from)) : null;
  for (const field of Object.keys(fields)) {
    const value = fields[field];
    if (!value) continue;
    const by = mapping.fields[field] ?? null;
    if (!by && joined?.has(field)) continue;
    const to = by ? by.to : guessFact(field);
    if (to && to !== "answer") say(to, translated(by, value), by, field);
    else if (!isEnvelope(field)) answers[field] = translated(by, value);
  }
  for (const { from, between, to } of mapping.joins) {
    const value = from
      .map((f) => fields[f])
      .filter(Boolean)
      .join(between);
    if (value) say(to, value, null, from.join(" + "));
  }
  for (const { name, choices } of source.form?.fields ?? []) {
    const sets = choices.find((c) => c.value === fields[name])?.sets;
    if (sets?.tag) say("tag", sets.tag, null, name);
    if (sets?.product && !said.has("product")) say("product", sets.product, null, name);
  }
  for (const key of Object.keys(mapping.constants) as FactKey[])
    if (!said.has(key) && mapping.constants[key]) say(key, mapping.constants[key], null, "constant");
  return said;
}

function translated(by: FieldMapping | null, value: string): string {
  if (!by?.translate) return value;
  const wanted = value.trim().toLowerCase();
  const hit = Object.entries(by.translate).find(([theirs]) => theirs.trim().toLowerCase() === wanted);
  return hit ? hit[1] : value;
}

function nameOf(said: Said): string | null {
  const whole = said.get("name")?.[0];
  if (!whole) return null;
  const [before, after, ...more] = whole.value.split(",", 3).map((part) => part.trim());
  if (before && after && more.length === 0) return `${after} ${before}`;
  if (whole.by?.order !== "family-first") return whole.value;
  const [family, ...given] = whole.value.trim().split(/\s+/);
  return given.length > 0 ? `${given.join(" ")} ${family}` : whole.value;
}

function tagsOf(source: Source, said: readonly string[]): readonly string[] {
  if (said.length === 0) return source.mapping.tags;
  const written = said
    .flatMap((t) => t.split(/[,;]/, MOST_TAGS))
    .slice(0, MOST_TAGS)
    .map((t) => t.trim().toLowerCase().slice(0, LONGEST_TAG));
  return distinct([...source.mapping.tags, ...written.map((t) => t || null)]);
}

/** Facts few inquiries carry. What does not fit its own field is kept as an answer, as it was said. */
function rareFacts(said: Said, policies: Policies, answers: Record<string, string>): Partial<InquiryFacts> {
  const rare: { -readonly [K in keyof InquiryFacts]?: InquiryFacts[K] } = {};
  const kinds: Record<E164, PhoneKind> = {};
  for (const { value, by, field } of said.get("phone") ?? []) {
    const kind = by ? by.kind : MOBILE.test(field) ? "mobile" : undefined;
    const phone = kind && toE164(value, policies.company.country);
    if (kind && phone) kinds[phone] = kind;
  }
  if (Object.keys(kinds).length > 0) rare.kinds = kinds;
  const own: Record<string, OwnValue> = {};
  for (const [key, list] of said) {
    if (!key.startsWith("own.")) continue;
    const field = policies.fields.find((f) => `own.${f.key}` === key);
    const read = field && readOwnValue(field, list.map((l) => l.value).join(", "));
    if (field && read?.ok) own[field.key] = read.value;
    else for (const { field: theirs, value } of list) answers[theirs] = value;
  }
  if (Object.keys(own).length > 0) rare.own = own;
  const plain: readonly [BuiltInFact, "address" | "detail"][] = [
    ["address", "address"],
    ["detail", "detail"],
  ];
  for (const [key, name] of plain) {
    const value = shortened(said.get(key)?.[0]?.value);
    if (value) rare[name] = value;
  }
  const preferred = shortened(said.get("preferred")?.[0]?.value)?.toLowerCase();
  const way = CONTACT_WAYS.find(
    (w) => preferred && (preferred.includes(w) || (w === "call" && preferred.includes("phone"))),
  );
  if (way) rare.preferred = way;
  const callWhen = shortened(said.get("call_when")?.[0]?.value);
  if (callWhen) {
    rare.callWhen = callWhen;
    answers["when to call"] = callWhen;
  }
  return rare;
}

/** What is said in a line: a name, a company, a street. Longer than this it is something else, and is cut. */
const LINE = 300;
/** So many addresses, so many numbers and so many tags one inquiry may bring. */
const MOST_WAYS = 20;
const MOST_TAGS = 40;
const LONGEST_TAG = 60;

function shortened(value: string | null | undefined): string | null {
  return value ? value.slice(0, LINE) : null;
}

/** A field that says by its name that its phone is a mobile. */
const MOBILE = /mobile|\bcell|handy|m[oó]vil|portable/i;

function unreachable(tried: readonly string[], names: readonly string[]): string {
  if (tried.length > 0)
    return `“${tried
      .slice(0, 5)
      .map(shown)
      .join(
        "”, “",
      )}” is neither a mail address nor a phone number anybody could be reached at. Correct it or map another field, then try it again.`;
  if (names.length === 0)
    return "The payload is empty: there is nothing to read a phone number or mail address from.";
  return `No field carries a phone number or mail address (fields: ${names
    .slice(0, 12)
    .map((n) => n.slice(0, 60))
    .join(", ")}). Map one of them to phone or email, then try it again.`;
}

function distinct(list: readonly (string | null)[]): string[] {
  return [...new Set(list.filter((x) => x !== null))];
}

/** The product somebody means by key, name or another name for it; null when it is none of ours. */
export function findProduct(policies: Policies, written: string | null): Product | null {
  const said = written?.slice(0, LINE).trim().toLowerCase();
  if (!said) return null;
  const names = (p: Product) => [p.key, p.name, ...p.alsoCalled].map((n) => n.toLowerCase());
  return (
    policies.products.find((p) => names(p).includes(said)) ??
    policies.products.find((p) => names(p).some((n) => said.includes(n))) ??
    null
  );
}

/** What an inquiry says that says nothing. */
export const NOTHING_SAID: InquiryFacts = {
  name: null,
  emails: [],
  phones: [],
  company: null,
  product: null,
  value: null,
  message: null,
  postalCode: null,
  territory: null,
  zone: null,
  language: null,
  answers: {},
  tags: [],
};
