import { Temporal } from "temporal-polyfill";

/**
 * A time as people type it, at a place: `in 2 h`, `in 3 days`, `tomorrow`, `tomorrow 10`, `fri 9:30`, `24 mar 10:00`,
 * `17:00`. A day without a time means nine in the morning. Null when it is not understood or lies in the past.
 */
export function sayWhen(text: string, now: number, zone: string): number | null {
  const said = text.trim().toLowerCase().replace(/\s+/g, " ");
  if (!said) return null;
  const here = Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(zone);
  const [, amount, unit] =
    /^(?:in )?(\d{1,3}) ?(m|mins?|minutes?|h|hours?|d|days?|w|weeks?|months?)$/.exec(said) ?? [];
  if (amount && unit) return later(here, Number(amount), unit);
  const [, day = "", clock = ""] =
    /^(.*?)(?:(?:^| at | )(\d{1,2}(?::\d{2})?(?: ?[ap]m)?))?$/.exec(said) ?? [];
  const time = readClock(clock);
  if (clock && !time) return null;
  const date = readDay(day.trim(), here);
  if (!date) return null;
  const at = date.toZonedDateTime({ timeZone: zone, plainTime: time ?? NINE });
  const due = day.trim() === "" && Temporal.ZonedDateTime.compare(at, here) <= 0 ? at.add({ days: 1 }) : at;
  return due.epochMilliseconds > now ? due.epochMilliseconds : null;
}

const NINE = Temporal.PlainTime.from("09:00");
/** Whole words only: what merely begins like a day, as “money” or “sunroof”, is none. */
const DAYS: readonly (readonly string[])[] = [
  ["mon", "monday"],
  ["tue", "tues", "tuesday"],
  ["wed", "weds", "wednesday"],
  ["thu", "thur", "thurs", "thursday"],
  ["fri", "friday"],
  ["sat", "saturday"],
  ["sun", "sunday"],
];
const MONTHS: readonly (readonly string[])[] = [
  ["jan", "january"],
  ["feb", "february"],
  ["mar", "march"],
  ["apr", "april"],
  ["may"],
  ["jun", "june"],
  ["jul", "july"],
  ["aug", "august"],
  ["sep", "sept", "september"],
  ["oct", "october"],
  ["nov", "november"],
  ["dec", "december"],
];

function later(here: Temporal.ZonedDateTime, amount: number, unit: string): number {
  if (unit.startsWith("mo")) return here.add({ months: amount }).epochMilliseconds;
  if (unit.startsWith("m")) return here.add({ minutes: amount }).epochMilliseconds;
  if (unit.startsWith("h")) return here.add({ hours: amount }).epochMilliseconds;
  return here.add(unit.startsWith("w") ? { weeks: amount } : { days: amount }).epochMilliseconds;
}

function readClock(clock: string): Temporal.PlainTime | null {
  const [, h = "", m = "00", half] = /^(\d{1,2})(?::(\d{2}))?(?: ?([ap]m))?$/.exec(clock) ?? [];
  if (!h) return null;
  const hour = half ? (Number(h) % 12) + (half === "pm" ? 12 : 0) : Number(h);
  if (hour > 23 || Number(m) > 59 || (half && (Number(h) > 12 || Number(h) === 0))) return null;
  return Temporal.PlainTime.from({ hour, minute: Number(m) });
}

function readDay(day: string, here: Temporal.ZonedDateTime): Temporal.PlainDate | null {
  const today = here.toPlainDate();
  if (day === "" || day === "today") return today;
  if (day === "tomorrow") return today.add({ days: 1 });
  const named = /^(?:next |on )?([a-z]+)$/.exec(day)?.[1] ?? "";
  const weekday = DAYS.findIndex((names) => names.includes(named));
  if (weekday >= 0) return today.add({ days: (weekday + 1 - today.dayOfWeek + 7) % 7 || 7 });
  const [, n, name = ""] = /^(?:on )?(\d{1,2})\.? ([a-z]+)$/.exec(day) ?? [];
  const month = MONTHS.findIndex((names) => names.includes(name)) + 1;
  if (!n || month === 0) return null;
  try {
    const fields = { year: today.year, month, day: Number(n) };
    const date = Temporal.PlainDate.from(fields, { overflow: "reject" });
    return Temporal.PlainDate.compare(date, today) < 0 ? date.add({ years: 1 }) : date;
  } catch {
    // No such day, as the 31st of June.
    return null;
  }
}
