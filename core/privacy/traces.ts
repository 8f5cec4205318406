import { readablePhone } from "../contact/readable-phone.ts";
import type { LeadEvent } from "../lead/events.ts";

/** What stands where somebody was named. */
export const NAMELESS = "(erased)";

/** A name of one short word is many people's: texts of others are not searched for it. */
const isTelling = (name: string): boolean => name.trim().length >= 5 && /\s/.test(name.trim());

/**
 * By what somebody is found in what was written about others: full names, mail addresses, numbers as they are kept and as they are
 * read out. In lower case, the longest first. `spared` are names that are somebody else's as well, such as one of ours.
 */
export function tracesOf(
  events: Iterable<Pick<LeadEvent, "data">>,
  spared: readonly string[],
): readonly string[] {
  const found = new Set<string>();
  const put = (text: string) => {
    const plain = text.trim().toLowerCase();
    if (plain.length >= 5) found.add(plain);
  };
  const walk = (key: string, value: unknown, of: object): void => {
    if (typeof value === "string") {
      if (key === "name" && !("cadenceId" in of || "worksheetId" in of || "key" in of) && isTelling(value))
        put(value);
      else if (key === "emails" || ((key === "to" || key === "from") && value.includes("@"))) put(value);
      else if (key === "phones") {
        put(value);
        put(readablePhone(value));
      }
    } else if (Array.isArray(value)) for (const one of value) walk(key, one, of);
    else if (value && typeof value === "object")
      for (const [inner, one] of Object.entries(value)) walk(inner, one, value);
  };
  for (const { data } of events) walk("", data, data);
  for (const name of spared) found.delete(name.trim().toLowerCase());
  return [...found].sort((a, b) => b.length - a.length);
}

const escaped = (text: string) => text.replaceAll(/[\\^$.*+?()[\]{}|/]/g, "\\$&");

const isNumber = (trace: string): boolean => /^\+?[\d\s().-]+$/.test(trace);

/** A number is written in many ways: its digits, with little or nothing between them. */
const patternOf = (trace: string): string =>
  isNumber(trace) ? [...trace.replaceAll(/\D/g, "")].join("[\\s().-]{0,3}") : escaped(trace);

/** Whether a trace stands among what a lead is searched by: its name, company, addresses and numbers, in small letters. */
export function isAmong(trace: string, search: string): boolean {
  if (!isNumber(trace)) return search.includes(trace);
  const digits = trace.replaceAll(/\D/g, "");
  return search.split(" ").some((word) => word.startsWith("+") && word.endsWith(digits));
}

/** A piece of a trace that stands in every text it stands in, in small letters without accents: what a database can look for. Empty for none. */
export function sureOf(trace: string): string {
  if (isNumber(trace)) return trace.replaceAll(/\D/g, "").slice(-4);
  const pieces = trace.match(/[\x20-\x7e]+/g) ?? [];
  return pieces.reduce<string>((best, piece) => (piece.length > best.length ? piece : best), "");
}

/** Takes traces out of texts, in linear time; what has none comes back as it was, the very same value. */
export class Redactor {
  readonly #pattern: RegExp | null;

  constructor(traces: readonly string[]) {
    this.#pattern = traces.length > 0 ? new RegExp(traces.map(patternOf).join("|"), "giu") : null;
  }

  text(text: string): string {
    return this.#pattern ? text.replace(this.#pattern, NAMELESS) : text;
  }

  /** The same in every text of a value, and in the names of its fields. */
  value<T>(value: T): T {
    return this.#value(value) as T;
  }

  #value(value: unknown): unknown {
    if (typeof value === "string") return this.text(value);
    if (Array.isArray(value)) {
      const all = value.map((one) => this.#value(one));
      return all.every((one, i) => one === value[i]) ? value : all;
    }
    if (!value || typeof value !== "object") return value;
    const entries = Object.entries(value);
    const clean = entries.map(([key, one]) => [this.text(key), this.#value(one)] as const);
    return clean.every(([key, one], i) => key === entries[i]![0] && one === entries[i]![1])
      ? value
      : Object.fromEntries(clean);
  }
}
