import { en, type ParsedResult } from "chrono-node";
import { Temporal } from "temporal-polyfill";

/** Longer than this nobody types a time. */
const LONGEST = 60;

/** What a part of the day means when no hour is named: wall hours. */
const PARTS: readonly (readonly [RegExp, number])[] = [
  [/\b(tonight|evening|night)\b/, 19],
  [/\bafternoon\b/, 14],
  [/\bmorning\b/, 9],
];
/** A day without a time means nine in the morning. */
const NINE = 9;

/**
 * A time as people type it, at a place: `3 days`, `next tuesday`, `tonight`, `noon`, `17.30`, `march 10`, `day 90` (after
 * they became a customer, `since` in epoch ms). Epoch ms; null when not all of it is understood, or it lies in the past.
 *
 * Read by chrono-node, as wall time of the zone, and only as whole words: “friend” is no Friday. So long from now (`in 3
 * days`) keeps the time of day; a day is nine in the morning; an hour that has passed is tomorrow’s. Never throws.
 */
export function readWhen(
  text: string,
  now: number,
  zone: string,
  since: number | null = null,
): number | null {
  const said = plain(text);
  if (!said || said.length > LONGEST) return null;
  const here = Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(zone);
  const at = dayOfCustomer(said, since, zone) ?? inMonths(said, here) ?? read(said, here);
  return at !== null && at > now ? at : null;
}

/** As it is typed, in one spelling: `17.30` and `10.3.2026` with the signs the parser knows, short units with a space. */
function plain(text: string): string {
  return (
    text
      .trim()
      .toLowerCase()
      .replace(/\s+/g, " ")
      .replace(/^(?:on|at|until|till) /, "")
      // “Next friday” is the first to come; which one is meant is shown before it counts.
      .replace(/^next (?=(?:mon|tues?|wed(?:nes)?|thu(?:rs?)?|fri|sat(?:ur)?|sun)(?:day)?\b)/, "")
      .replace(
        /\b(\d{1,2})\.(\d{1,2})\.(\d{4})\b/g,
        (_, d, m, y) => `${y}-${m.padStart(2, "0")}-${d.padStart(2, "0")}`,
      )
      .replace(/\b(\d{1,2})\.(\d{2})\b/g, "$1:$2")
      .replace(
        /^(\d{1,3}) ?(m|h|d|w)$/,
        (_, n, unit) => `${n} ${{ m: "minutes", h: "hours", d: "days", w: "weeks" }[unit as "m"]}`,
      )
      .replace(/^half an hour$/, "in half an hour")
      .replace(
        /^(a|an|one|two|three|four|five|six|\d{1,3}) (minute|min|hour|day|week|month|year)s?$/,
        "in $&",
      )
  );
}

/** `day 90`: so many days after they became a customer, at nine. */
function dayOfCustomer(said: string, since: number | null, zone: string): number | null {
  const days = /^day (\d{1,4})$/.exec(said)?.[1];
  if (!days || since === null) return null;
  const began = Temporal.Instant.fromEpochMilliseconds(since).toZonedDateTimeISO(zone).toPlainDate();
  return atHour(began.add({ days: Number(days) }), NINE, 0, zone);
}

const NUMBERS = ["a", "one", "two", "three", "four", "five", "six"];

/** So many months or years on: of the calendar, and clamped (31 January and a month is 28 February), which the parser does not. */
function inMonths(said: string, here: Temporal.ZonedDateTime): number | null {
  const [, amount = "", unit] =
    /^in (an?|one|two|three|four|five|six|\d{1,3}) (month|year)s?$/.exec(said) ?? [];
  if (said === "next month") return atHour(here.toPlainDate().add({ months: 1 }), NINE, 0, here.timeZoneId);
  if (!unit) return null;
  const n = /\d/.test(amount) ? Number(amount) : Math.max(1, NUMBERS.indexOf(amount));
  return here.add(unit === "month" ? { months: n } : { years: n }).epochMilliseconds;
}

const atHour = (day: Temporal.PlainDate, hour: number, minute: number, zone: string) =>
  day.toZonedDateTime({ timeZone: zone, plainTime: Temporal.PlainTime.from({ hour, minute }) })
    .epochMilliseconds;

function parse(said: string, here: Temporal.ZonedDateTime): ParsedResult | null {
  const reference = {
    // biome-ignore lint/style/noRestrictedGlobals: the parser takes a Date; one made of a given instant reads no clock
    instant: new Date(here.epochMilliseconds),
    timezone: here.offsetNanoseconds / 60_000_000_000,
  };
  const [only, ...more] = en.casual.parse(said, reference, { forwardDate: true });
  // Half a time is none: what was not understood may have been what mattered.
  return only && more.length === 0 && only.text.length === said.length && !only.end ? only : null;
}

function read(said: string, here: Temporal.ZonedDateTime): number | null {
  // The parser would make the coming one of a day that has been.
  const found = /\b(last|ago|past)\b/.test(said) ? null : parse(said, here);
  if (!found) return null;
  const { start } = found;
  const zone = here.timeZoneId;
  // Minutes and hours from now are of the clock, whatever clocks do meanwhile.
  if (start.isCertain("timezoneOffset")) return start.date().getTime();
  const isSpan = /^(in|within) /.test(said);
  const named = ["day", "weekday", "hour"] as const;
  if (!isSpan && !named.some((part) => start.isCertain(part)) && !partOf(said)) return null;
  const fields = { year: start.get("year")!, month: start.get("month")!, day: start.get("day")! };
  let day: Temporal.PlainDate;
  try {
    day = Temporal.PlainDate.from(fields, { overflow: "reject" });
  } catch {
    // No such day, as the 31st of June.
    return null;
  }
  if (said === "next week") return atHour(day, NINE, 0, zone);
  if (isSpan && !start.isCertain("hour"))
    return day.toZonedDateTime({ timeZone: zone, plainTime: here.toPlainTime() }).epochMilliseconds;
  const hour = start.isCertain("hour") ? start.get("hour")! : (partOf(said) ?? NINE);
  const at = atHour(day, hour, start.isCertain("hour") ? (start.get("minute") ?? 0) : 0, zone);
  if (at > here.epochMilliseconds) return at;
  if (start.isCertain("weekday") && !start.isCertain("day"))
    return atHour(day.add({ days: 7 }), hour, start.get("minute") ?? 0, zone);
  const isTimeAlone =
    !start.isCertain("day") && !start.isCertain("weekday") && !/\b(today|this|tonight)\b/.test(said);
  return isTimeAlone ? atHour(day.add({ days: 1 }), hour, start.get("minute") ?? 0, zone) : at;
}

const partOf = (said: string): number | null => PARTS.find(([part]) => part.test(said))?.[1] ?? null;
