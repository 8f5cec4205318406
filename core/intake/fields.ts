/** A payload as named text answers: what every format is brought to before it is mapped. */
export type Fields = Readonly<Record<string, string>>;

const DEPTH = 6;

/**
 * Flatten a JSON-like payload to named answers. A list of `{field, value}` pairs (an ad form's answers)
 * becomes those fields; other lists are joined with commas; nested names are joined with dots. Never throws.
 */
export function flatten(payload: unknown): Fields {
  const out: Record<string, string> = {};
  walk(payload, "", out, 0);
  return out;
}

function walk(value: unknown, name: string, out: Record<string, string>, depth: number): void {
  if (value === null || value === undefined || depth > DEPTH) return;
  if (typeof value !== "object") {
    if (name) out[name] = String(value).trim();
    return;
  }
  if (Array.isArray(value)) {
    if (value.every(isAnswer)) {
      for (const { field, value: answer } of value) walk(answer, String(field), out, depth + 1);
    } else if (name) {
      out[name] = value.filter((v) => typeof v !== "object").join(", ");
    }
    return;
  }
  for (const [key, inner] of Object.entries(value))
    walk(inner, name ? `${name}.${key}` : key, out, depth + 1);
}

function isAnswer(value: unknown): value is { field: unknown; value: unknown } {
  return typeof value === "object" && value !== null && "field" in value && "value" in value;
}
