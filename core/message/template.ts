import { Liquid, type Template as Parsed } from "liquidjs";
import type { Lead } from "../lead/lead.ts";
import type { Template } from "../policy/answering.ts";
import { textIn } from "../policy/company.ts";
import type { Person } from "../policy/people.ts";
import type { Setup } from "../policy/setup.ts";
import { knownPath, mergeFields, mergeValues } from "./merge-fields.ts";
import { unlinked } from "./outside-words.ts";

/** Tags that choose and keep; loops have nothing to run over here, and files are not to be read. */
const TAGS: ReadonlySet<string> = new Set([
  "if",
  "unless",
  "case",
  "assign",
  "capture",
  "comment",
  "raw",
  "#",
]);

const engine = new Liquid({
  ownPropertyOnly: true,
  strictFilters: true,
  // Bounds against what a slip could make endless: characters parsed, ms and memory used.
  parseLimit: 100_000,
  renderLimit: 1_000,
  memoryLimit: 1_000_000,
});
for (const tag of Object.keys(engine.tags)) if (!TAGS.has(tag)) delete engine.tags[tag];

/** Something wrong in a template, at its place; both count from 1. */
export interface TemplateFault {
  readonly message: string;
  readonly line: number;
  readonly column: number;
}

const parsed = new Map<string, Parsed[]>();
/** So many parsed sources are remembered. */
const MOST_PARSED = 500;

function parse(source: string): Parsed[] {
  let template = parsed.get(source);
  if (!template) {
    template = engine.parse(source);
    if (parsed.size >= MOST_PARSED) parsed.clear();
    parsed.set(source, template);
  }
  return template;
}

function fill(source: string, values: object): string {
  return String(engine.renderSync(parse(source), values));
}

/** The place an error of the engine names, and its message without it. */
function faultOf(error: unknown): TemplateFault {
  const said = error instanceof Error ? error.message : String(error);
  const at = said.lastIndexOf("line:");
  const [, line = "1", column = "1"] = /^line:(\d+), col:(\d+)/.exec(at < 0 ? "" : said.slice(at)) ?? [];
  const before = at < 0 ? said : said.slice(0, at);
  const file = before.lastIndexOf("file:");
  const message = (file < 0 ? before : before.slice(0, file)).replace(/,? ?$/, "");
  return {
    message: message.charAt(0).toUpperCase() + message.slice(1),
    line: Number(line),
    column: Number(column),
  };
}

/**
 * What is wrong in a template: what cannot be read, unknown tags and filters, and fields that do not exist.
 * Empty when it can be used.
 */
export function checkTemplate(source: string, setup: Setup): readonly TemplateFault[] {
  try {
    const template = parse(source);
    const known = mergeFields(setup);
    const faults = Object.values(engine.analyzeSync(template).globals)
      .flat()
      .filter((v) => !knownPath(known, v.segments.map(String)))
      .map(({ segments, location }) => ({
        message: `There is no field “${segments.join(".")}”. Insert fields from the menu.`,
        line: location.row,
        column: location.col,
      }));
    if (faults.length > 0) return faults.sort((a, b) => a.line - b.line || a.column - b.column);
    // Some errors only show when it is filled in.
    fill(source, Object.create(null));
    return [];
  } catch (error) {
    return [faultOf(error)];
  }
}

/**
 * JSON written as a template: `{"who": {{ data.lead.name | json }}}`. Gives what it comes to, in one line, or why it is no
 * JSON. Never throws.
 */
export function jsonBy(
  source: string,
  values: object,
): { readonly ok: true; readonly json: string } | { readonly ok: false; readonly why: string } {
  try {
    return { ok: true, json: JSON.stringify(JSON.parse(fill(source, values))) };
  } catch (error) {
    return {
      ok: false,
      why: error instanceof SyntaxError ? `It comes to no JSON: ${error.message}` : faultOf(error).message,
    };
  }
}

/** What a template becomes for a lead. */
export interface Merged {
  readonly subject: string | null;
  readonly body: string;
}

/**
 * Fill a piece of Liquid for a lead.
 * @throws when it is not valid Liquid or uses an unknown filter: templates are checked when saved.
 */
export function merge(source: string, setup: Setup, lead: Lead, owner?: Person): string {
  return fill(source, mergeValues(setup, lead, owner))
    .replace(/\n{3,}/g, "\n\n")
    .trim();
}

/** Fill a template for a lead, in the lead's language where there is one ({@link textIn}). Throws as {@link merge}. */
export function renderTemplate(template: Template, setup: Setup, lead: Lead, owner?: Person): Merged {
  const text = textIn(template.texts, lead.facts.language, setup.policies.company);
  if (!text) throw new Error(`Template ${template.id} has no text.`);
  const one = (source: string) => merge(source, setup, lead, owner);
  // A subject is one line, whatever somebody wrote into a form.
  return { subject: text.subject ? one(text.subject).replace(/\s+/g, " ") : null, body: one(text.body) };
}

/** What a lead wants, in a few words for a card: product and the beginning of what they wrote. */
export function wants(setup: Setup, lead: Lead): string {
  const product = setup.policies.products.find((p) => p.key === lead.facts.product)?.name;
  const said = lead.facts.message && unlinked(lead.facts.message.slice(0, 400)).replace(/\s+/g, " ");
  const short = said && said.length > 90 ? `${said.slice(0, 87).trimEnd()}…` : said;
  return [product, short && `“${short}”`].filter(Boolean).join(", ") || "interest not stated";
}
