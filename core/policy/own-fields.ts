import { Temporal } from "temporal-polyfill";

/** What a company may ask for beyond what every lead has. */
export type OwnFieldType =
  | "text"
  | "number"
  | "money"
  | "date"
  | "birthday"
  | "yes-no"
  | "choice"
  | "choices"
  | "link";

/** A field of the company's own. Its key is used in rules, forms, templates and filters as `own.key`. */
export interface OwnField {
  readonly key: string;
  readonly name: string;
  readonly type: OwnFieldType;
  /** What may be chosen; empty for other types. */
  readonly choices: readonly string[];
  /** Asked for before a lead counts as complete. */
  readonly required: boolean;
}

/** A tag and what it means, so that everybody uses it alike. */
export interface TagMeaning {
  readonly name: string;
  readonly meaning: string;
}

export type OwnValue = string | number | boolean | readonly string[];

export type ReadValue =
  | { readonly ok: true; readonly value: OwnValue }
  | { readonly ok: false; readonly reason: string };

const YES = new Set("yes y true 1 ja oui si sí on x".split(" "));
const NO = new Set("no n false 0 nein non off".split(" "));

const fine = (value: OwnValue): ReadValue => ({ ok: true, value });
const wrong = (reason: string): ReadValue => ({ ok: false, reason });

/**
 * A written value as the field's type keeps it: numbers as numbers, dates as `2026-03-04`, birthdays as month
 * and day only (`03-04`), choices in the company's own spelling. Never throws; the reason names the remedy.
 */
export function readOwnValue(field: OwnField, written: string): ReadValue {
  const text = written.trim();
  switch (field.type) {
    case "text":
      return fine(text);
    case "link":
      return URL.canParse(text) && /^https?:/.test(text)
        ? fine(new URL(text).href)
        : wrong(`“${text}” is not a web address. It begins with https://.`);
    case "number":
    case "money":
      return readNumber(text);
    case "date":
    case "birthday":
      return readDate(text, field.type === "birthday");
    case "yes-no":
      return readYesNo(text);
    case "choice":
      return readChoice(field, text);
    case "choices":
      return readChoices(field, text);
  }
}

function readNumber(text: string): ReadValue {
  const bare = text.replace(/[\s\u00a0'’]|^[A-Z]{3}|[$€£]|[A-Z]{3}$/g, "");
  // The last of comma and point parts the decimals, unless exactly three digits follow a lone comma.
  const comma = bare.lastIndexOf(",");
  const point = bare.lastIndexOf(".");
  const decimal = comma > point && !/^-?\d{1,3}(,\d{3})+$/.test(bare) ? "," : ".";
  const plain = decimal === "," ? bare.replace(/\./g, "").replace(",", ".") : bare.replace(/,/g, "");
  return /^-?\d{1,15}(\.\d{1,15})?$/.test(plain) ? fine(Number(plain)) : wrong(`“${text}” is not a number.`);
}

function readDate(text: string, birthday: boolean): ReadValue {
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})/.exec(text);
  // Month first, as the desk's country writes it, unless that cannot be.
  const american = /^(\d{1,2})[/.](\d{1,2})(?:[/.](\d{4}))?$/.exec(text);
  const dayless = /^-{0,2}(\d{1,2})-(\d{1,2})$/.exec(text);
  let parts: [number, number, number] | null = null;
  if (iso) parts = [Number(iso[1]), Number(iso[2]), Number(iso[3])];
  else if (american) {
    const [a, b] = [Number(american[1]), Number(american[2])];
    parts =
      a > 12 || text.includes(".")
        ? [Number(american[3] ?? 2000), b, a]
        : [Number(american[3] ?? 2000), a, b];
    if (!american[3] && !birthday) parts = null;
  } else if (dayless && birthday) parts = [2000, Number(dayless[1]), Number(dayless[2])];
  if (!parts) return wrong(`“${text}” is not a date. Write it as 2026-03-04.`);
  try {
    const date = Temporal.PlainDate.from(
      { year: parts[0], month: parts[1], day: parts[2] },
      { overflow: "reject" },
    ).toString();
    return fine(birthday ? date.slice(5) : date);
  } catch {
    return wrong(`“${text}” is not a day of the calendar.`);
  }
}

function readYesNo(text: string): ReadValue {
  const said = text.toLowerCase();
  if (YES.has(said)) return fine(true);
  return NO.has(said) ? fine(false) : wrong(`“${text}” is neither yes nor no.`);
}

const offered = (field: OwnField, text: string) =>
  field.choices.find((c) => c.trim().toLowerCase() === text.trim().toLowerCase());

function readChoice(field: OwnField, text: string): ReadValue {
  const choice = offered(field, text);
  return choice === undefined ? wrong(`“${text}” is none of: ${field.choices.join(", ")}.`) : fine(choice);
}

function readChoices(field: OwnField, text: string): ReadValue {
  const whole = offered(field, text);
  if (whole !== undefined) return fine([whole]);
  const chosen: string[] = [];
  for (const part of text.split(/[,;|]/).filter((p) => p.trim())) {
    const choice = offered(field, part);
    if (choice === undefined) return wrong(`“${part.trim()}” is none of: ${field.choices.join(", ")}.`);
    if (!chosen.includes(choice)) chosen.push(choice);
  }
  return chosen.length > 0 ? fine(chosen) : wrong("Nothing is chosen.");
}

const MONTHS = "January February March April May June July August September October November December".split(
  " ",
);

/** A kept value as people read it. */
export function sayOwnValue(field: OwnField, value: OwnValue, currency: string): string {
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (field.type === "money" && typeof value === "number")
    return new Intl.NumberFormat("en-US", {
      style: "currency",
      currency,
      maximumFractionDigits: value % 1 ? 2 : 0,
    }).format(value);
  if (field.type === "birthday" && typeof value === "string") {
    const [month, day] = value.split("-").map(Number);
    return `${day} ${MONTHS[(month ?? 1) - 1]}`;
  }
  return typeof value === "object" ? value.join(", ") : String(value);
}

/** A key for a new field from its name: `Snow load (psf)` → `snow_load_psf`. */
export function keyOf(name: string): string {
  return name
    .normalize("NFKD")
    .replace(/[\u0300-\u036f]/g, "")
    .toLowerCase()
    .split(/[^a-z0-9]+/)
    .filter(Boolean)
    .join("_")
    .slice(0, 40);
}
