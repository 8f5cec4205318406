/** A payload as named text answers: what every format is brought to before it is mapped. */
export type Fields = Readonly<Record<string, string>>;

/** How deep a payload is looked into. */
const DEPTH = 6;
/** So many answers a payload may have, and so long (characters) each answer and its name may be. */
export const MOST_ANSWERS = 300;
const LONGEST_ANSWER = 20_000;
const LONGEST_NAME = 200;
/** So many characters of all answers together are kept whole; beyond, only the beginning of each. */
const MOST_TOGETHER = 60_000;
const BEGINNING = 200;

/**
 * Answers within what a lead can carry: long ones are cut, with a mark, since every look at the lead reads them and the
 * original is kept whole anyway. Null when there are so many that nobody has filled in a form. Linear, never throws.
 */
export function bounded(fields: Fields): Fields | null {
  const names = Object.keys(fields);
  if (names.length > MOST_ANSWERS) return null;
  const out: [string, string][] = [];
  let together = 0;
  for (const name of names) {
    const value = fields[name]!;
    const most = together > MOST_TOGETHER ? BEGINNING : LONGEST_ANSWER;
    const kept = value.length > most ? `${cut(value, most)}…` : value;
    together += kept.length;
    out.push([cut(name, LONGEST_NAME), kept]);
  }
  return Object.fromEntries(out);
}

/** The beginning of a text, at most so many characters and never half of one. */
function cut(text: string, most: number): string {
  return text.length > most ? text.slice(0, most).replace(/[\ud800-\udbff]$/, "") : text;
}

/**
 * Flatten a JSON-like payload to named answers. A list of `{field, value}` pairs (an ad form's answers)
 * becomes those fields; other lists are joined with commas; nested names are joined with dots. Never throws.
 */
export function flatten(payload: unknown): Fields {
  const out = new Map<string, string>();
  walk(payload, "", out, 0);
  return Object.fromEntries(out);
}

function walk(value: unknown, name: string, out: Map<string, string>, depth: number): void {
  // One more than may be is enough to see that it is too much.
  if (value === null || value === undefined || depth > DEPTH || out.size > MOST_ANSWERS) return;
  if (typeof value !== "object") {
    if (name) out.set(name, String(value).trim());
    return;
  }
  if (Array.isArray(value)) {
    if (value.every(isAnswer)) {
      for (const { field, value: answer } of value) walk(answer, String(field), out, depth + 1);
    } else if (name) {
      out.set(name, value.filter((v) => typeof v !== "object").join(", "));
    }
    return;
  }
  for (const key of Object.keys(value))
    walk((value as Record<string, unknown>)[key], name ? `${name}.${key}` : key, out, depth + 1);
}

function isAnswer(value: unknown): value is { field: unknown; value: unknown } {
  return typeof value === "object" && value !== null && "field" in value && "value" in value;
}

/** Fields as somebody wrote them down, in a few lines. */
export function writtenDown(fields: Fields): string {
  const lines = Object.entries(fields).map(([name, value]) => `${name}: ${value}`);
  return ["They asked again:", ...lines].join("\n");
}
