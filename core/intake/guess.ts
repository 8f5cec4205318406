import { toEmail } from "../contact/email.ts";
import { plain } from "../contact/likely.ts";
import { toE164 } from "../contact/phone.ts";
import { guessFact, isEnvelope } from "../policy/field-names.ts";
import type { FactKey, FieldMapping, Mapping } from "../policy/mapping.ts";
import type { Policies } from "../policy/setup.ts";
import type { Fields } from "./fields.ts";

const isCapitalised = (word: string) => /^\p{Lu}[\p{L}'’]+$/u.test(word);
const isName = (value: string) => {
  const words = value.split(/[ -]/);
  return words.length >= 2 && words.length <= 4 && words.every(isCapitalised);
};

/** What a value looks like, most telling first. Only the beginning of a long one is looked at. */
const LOOKS: readonly [(value: string, country: string) => boolean, FactKey][] = [
  [(v) => toEmail(v) !== null, "email"],
  [(v, at) => v.length < 25 && /^\+?[\d\s().-]{7,}$/.test(v) && toE164(v, at) !== null, "phone"],
  [(v) => /^[A-Z]\d[A-Z]\s?\d[A-Z]\d$|^\d{5}(-\d{4})?$/i.test(v), "postal_code"],
  [isName, "name"],
  [(v) => v.split(/\s+/, 3).length === 3, "message"],
];
/** The longest look (characters). */
const LOOKED_AT = 400;

/**
 * A first guess at a mapping from samples of what arrives: by the company's own fields' names, by the field's
 * name, then by what most of its values look like. Two fields never claim the same single-valued fact by looks.
 */
export function guessMapping(
  samples: readonly Fields[],
  { fields: own, products, company }: Pick<Policies, "fields" | "products" | "company">,
): Mapping["fields"] {
  const ours = products.flatMap((p) => [p.key, p.name, ...p.alsoCalled]).map((n) => n.toLowerCase());
  const names = [...new Set(samples.flatMap((s) => Object.keys(s)))];
  const out: Record<string, FieldMapping> = {};
  const claimed = new Set<string>();
  for (const name of names) {
    const mine = own.find(
      (f) => plain(f.name) === plain(name.replace(/_/g, " ")) || f.key === name.toLowerCase(),
    );
    const to = mine ? (`own.${mine.key}` as const) : guessFact(name);
    if (!to) continue;
    claimed.add(to);
    out[name] = { to, ...(to === "phone" && /mobile|cell|handy/i.test(name) && { kind: "mobile" as const }) };
  }
  for (const name of names) {
    if (out[name]) continue;
    const values = samples.map((s) => s[name]?.trim().slice(0, LOOKED_AT) ?? "").filter(Boolean);
    const most = (fits: (value: string) => boolean) => values.filter(fits).length * 2 > values.length;
    if (!claimed.has("product") && most((v) => ours.includes(v.toLowerCase()))) {
      claimed.add("product");
      out[name] = { to: "product" };
      continue;
    }
    const look = LOOKS.find(([looksSo]) => most((v) => looksSo(v, company.country)))?.[1];
    if (!look || (claimed.has(look) && look !== "phone" && look !== "email")) continue;
    claimed.add(look);
    out[name] = { to: look };
  }
  return out;
}

/** The fields a mapping and the guesses leave as mere answers, of those that carry a value. */
export function unmappedFields(mapping: Mapping, fields: Fields): string[] {
  const joined = new Set(mapping.joins.flatMap((j) => j.from));
  return Object.keys(fields).filter(
    (f) => fields[f] && !mapping.fields[f] && !joined.has(f) && !guessFact(f) && !isEnvelope(f),
  );
}
