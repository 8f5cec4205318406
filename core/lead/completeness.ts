import { askName } from "../policy/asks.ts";
import type { FactKey } from "../policy/mapping.ts";
import type { Policies } from "../policy/setup.ts";
import type { Lead } from "./lead.ts";
import { answerTo } from "./qualify.ts";

export interface Completeness {
  /** Share of the weights whose facts are known, 0 to 100. */
  readonly percent: number;
  /** What is not known yet, the one that would raise it most first. */
  readonly missing: readonly { readonly fact: string; readonly name: string; readonly raises: number }[];
}

type Weighed = FactKey | "territory";

/** Whether a fact counts as known. A first name alone is no name. */
function isKnown(lead: Lead, fact: Weighed): boolean {
  if (fact === "name") return (lead.name ?? "").trim().includes(" ");
  if (fact === "first_name") return !!lead.name;
  return answerTo(lead, fact) !== null;
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
      name: askName(policies, fact),
      raises: Math.round((100 * weight) / total),
    }));
  const lacks = weighed.filter((w) => !isKnown(lead, w.fact)).reduce((sum, w) => sum + w.weight, 0);
  const percent = Math.round((100 * (total - lacks)) / total);
  return { percent: first.length > 0 ? Math.min(99, percent) : percent, missing: [...first, ...missing] };
}
