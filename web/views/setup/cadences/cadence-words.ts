import type { Cadences, Entry, Touch } from "../../../wire/cadence-schemas.ts";

/** Cadences in words: short enough for a line of a list. */

export const KINDS = [
  { value: "call", label: "a call" },
  { value: "text", label: "a text" },
  { value: "email", label: "an email" },
  { value: "task", label: "a task" },
  { value: "alert", label: "tell somebody" },
  { value: "tag", label: "tag it" },
  { value: "route", label: "ask the rules who gets it" },
  { value: "list", label: "put it on the manager’s list" },
  { value: "park", label: "park it" },
  { value: "close", label: "close it" },
  { value: "if", label: "only ask a question" },
] as const;

export const kindSaid = (kind: string): string => KINDS.find((k) => k.value === kind)?.label ?? kind;

/** The staves of the score, from top to bottom; what is none of a person’s ways is ours. */
export const STAVES = ["call", "text", "email", "ours"] as const;
export const staveOf = (kind: string): number => {
  const at = STAVES.indexOf(kind as (typeof STAVES)[number]);
  return at < 0 ? STAVES.length - 1 : at;
};

export interface Span {
  readonly n: number;
  readonly unit: "minutes" | "hours" | "days" | "weeks" | "months";
  readonly before: boolean;
}

const UNITS = { M: "minutes", H: "hours", D: "days", W: "weeks" } as const;

/** A duration of one unit as it is edited; null when it has several. */
export function spanOf(after: string): Span | null {
  const [, minus, clock, n, letter] = /^(-?)P(T?)(\d+)([MHDW])$/.exec(after) ?? [];
  if (!n || !letter) return null;
  const unit = letter === "M" && !clock ? "months" : UNITS[letter as keyof typeof UNITS];
  return { n: Number(n), unit, before: minus === "-" };
}

/** The ISO 8601 duration of a span. */
export function durationOf({ n, unit, before }: Span): string {
  const amount = Math.max(0, Math.round(n));
  const written = {
    minutes: `PT${amount}M`,
    hours: `PT${amount}H`,
    days: `P${amount}D`,
    weeks: `P${amount}W`,
    months: `P${amount}M`,
  }[unit];
  return before && amount > 0 ? `-${written}` : written;
}

/** `after 3 days`, `at once`: a duration of any make. */
export function afterSaid(after: string): string {
  const span = spanOf(after);
  if (!span) return after;
  if (span.n === 0) return "at once";
  const unit = span.n === 1 ? span.unit.slice(0, -1) : span.unit;
  return `${span.n} ${unit} ${span.before ? "before" : "after"}`;
}

const DAYS = { any: "", weekdays: ", not on weekends", desk: ", on days the desk opens" } as const;

/** When a touch comes, in words. */
export function whenSaid(touch: Touch, data: Pick<Cadences, "dates">): string {
  const from =
    touch.from === "field"
      ? (data.dates.find((d) => d.key === touch.field)?.name ?? "a date")
      : touch.from === "start"
        ? "the start"
        : "the one before";
  const span = spanOf(touch.after);
  const base =
    span?.n === 0
      ? touch.from === "field"
        ? `on ${from}`
        : touch.from === "start"
          ? "at the start"
          : "right after the one before"
      : `${afterSaid(touch.after)} ${from}`;
  const clock = touch.at
    ? touch.until
      ? `, between ${touch.at} and ${touch.until}`
      : `, at ${touch.at}`
    : "";
  const whose = touch.at && touch.zone === "lead" ? " their time" : "";
  const counted =
    touch.days && touch.days !== "any" && touch.count === "allowed-days" ? ", only those days counted" : "";
  const yearly = touch.from === "field" && touch.yearly ? ", every year" : "";
  return `${base}${clock}${whose}${DAYS[touch.days ?? "any"]}${counted}${yearly}`;
}

/** What a touch is, in words. */
export function whatSaid(touch: Touch, data: Pick<Cadences, "templates">): string {
  const template = data.templates.find((t) => t.id === touch.templateId)?.name;
  const words = template ?? touch.subject ?? touch.body ?? touch.note ?? "";
  const said = words.replace(/\s+/g, " ").trim();
  return said.length > 70 ? `${said.slice(0, 68)}…` : said;
}

/** How leads get in, in words. */
export function entrySaid(entry: Entry, data: Pick<Cadences, "outcomes">): string {
  const nth = entry.nth && entry.nth > 1 ? `, ${entry.nth} times in a row` : "";
  switch (entry.on) {
    case "inquiry":
      return "an inquiry comes in";
    case "outcome":
      return `the outcome “${data.outcomes.find((o) => o.key === entry.value)?.name ?? entry.value ?? ""}”${nth}`;
    case "tag":
      return `the tag “${entry.value ?? ""}” is given`;
    case "stage":
      return `the stage “${entry.value ?? ""}” is entered`;
    case "parked":
      return "it is parked";
    case "won":
      return "they buy";
  }
}
