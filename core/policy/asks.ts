import { FIELDS, fieldName } from "../condition/tree.ts";
import { FACTS, type FactKey } from "./mapping.ts";
import type { OwnField } from "./own-fields.ts";
import { DEAL_ASKS, type DealAsk } from "./stages.ts";

/** A fact of a lead that can be asked for, by the company's own fields, by facts of forms, or by what one was answered. */
export type AskKey = FactKey | "territory" | `answer.${string}`;

interface HasFields {
  readonly fields: readonly OwnField[];
}

/** Facts somebody can answer in words; names in parts and times to call are none. */
export const ASKABLE = [
  "name",
  "email",
  "phone",
  "company",
  "product",
  "message",
  "address",
  "postal_code",
  "language",
  "preferred",
  "detail",
] as const satisfies readonly FactKey[];

/**
 * What is meant by a field's name in a list of what must be known: a fact, a field of the company's own (with or without
 * `own.`), or of deals something of the deal. Null when there is no such thing.
 */
export function askOf(policies: HasFields, field: string): AskKey | DealAsk | null {
  if (Object.hasOwn(DEAL_ASKS, field)) return field as DealAsk;
  const key = field === "postal-code" ? "postal_code" : field;
  if ((ASKABLE as readonly string[]).includes(key) || key === "territory") return key as AskKey;
  if (key.startsWith("answer.")) return key as AskKey;
  const own = policies.fields.find((f) => f.key === key || `own.${f.key}` === key);
  return own ? `own.${own.key}` : null;
}

/** How something that can be asked for is called. */
export function askName(policies: HasFields, field: string): string {
  if (Object.hasOwn(DEAL_ASKS, field)) return DEAL_ASKS[field as DealAsk];
  if (field === "territory") return "Territory";
  if (field.startsWith("own.")) return policies.fields.find((f) => `own.${f.key}` === field)?.name ?? field;
  if (field.startsWith("answer.")) return fieldName(field as `answer.${string}`);
  if (Object.hasOwn(FACTS, field)) return FACTS[field as keyof typeof FACTS];
  return Object.hasOwn(FIELDS, field) ? FIELDS[field as keyof typeof FIELDS].name : field;
}
