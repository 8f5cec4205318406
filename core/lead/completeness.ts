import type { FactKey } from "../policy/mapping.ts";
import { FACTS } from "../policy/mapping.ts";
import type { Policies } from "../policy/setup.ts";
import type { Lead } from "./lead.ts";

export interface Completeness {
  /** Share of the weights whose facts are known, 0 to 100. */
  readonly percent: number;
  /** What is not known yet, the one that would raise it most first. */
  readonly missing: readonly { readonly fact: string; readonly name: string; readonly raises: number }[];
}

type Weighed = FactKey | "territory";

function isKnown(lead: Lead, fact: Weighed): boolean {
  const { facts } = lead;
  if (fact.startsWith("own.")) {
    const value = facts.own[fact.slice(4)];
    return value !== undefined && value !== "";
  }
  switch (fact) {
    case "name":
      return (lead.name ?? "").trim().includes(" ");
    case "first_name":
      return !!lead.name;
    case "email":
      return lead.emails.length > 0;
    case "phone":
      return lead.phones.length > 0;
    case "company":
      return !!lead.company;
    case "postal_code":
      return !!facts.postalCode;
    case "tag":
      return lead.tags.length > 0;
    case "product":
    case "message":
    case "address":
    case "preferred":
    case "detail":
    case "territory":
    case "language":
      return !!facts[fact];
    default:
      return false;
  }
}

/** How a weighed fact is called on screen. */
export function nameOfFact(fact: Weighed, policies: Policies): string {
  if (fact === "territory") return "Territory";
  if (!fact.startsWith("own.")) return FACTS[fact as keyof typeof FACTS];
  return policies.fields.find((f) => `own.${f.key}` === fact)?.name ?? fact;
}

/**
 * How much is known of what the company wants to know, by its own weights, and what would raise it most.
 * Facts without a positive weight do not count; with none at all a lead is complete. A required field of the
 * company's own comes before everything: without it no lead is wholly complete.
 */
export function completeness(lead: Lead, policies: Policies): Completeness {
  const weighed = policies.completeness.filter((w) => w.weight > 0);
  const total = weighed.reduce((sum, w) => sum + w.weight, 0);
  const required = policies.fields.filter((f) => f.required && !isKnown(lead, `own.${f.key}`));
  const first = required.map((f) => ({ fact: `own.${f.key}`, name: f.name, raises: 0 }));
  if (total === 0) return { percent: first.length > 0 ? 99 : 100, missing: first };
  const missing = weighed
    .filter((w) => !isKnown(lead, w.fact) && !first.some((f) => f.fact === w.fact))
    .sort((a, b) => b.weight - a.weight)
    .map(({ fact, weight }) => ({
      fact,
      name: nameOfFact(fact, policies),
      raises: Math.round((100 * weight) / total),
    }));
  const lacks = weighed.filter((w) => !isKnown(lead, w.fact)).reduce((sum, w) => sum + w.weight, 0);
  const percent = Math.round((100 * (total - lacks)) / total);
  return { percent: first.length > 0 ? Math.min(99, percent) : percent, missing: [...first, ...missing] };
}
