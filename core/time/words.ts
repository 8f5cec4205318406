import { Temporal } from "temporal-polyfill";

/** Times as people say them. Everything takes epoch milliseconds and an IANA zone; nothing reads a clock. */
const formats = new Map<string, Intl.DateTimeFormat>();

function format(zone: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = zone + JSON.stringify(options);
  let found = formats.get(key);
  if (!found) {
    found = new Intl.DateTimeFormat("en-GB", { timeZone: zone, ...options });
    formats.set(key, found);
  }
  return found;
}

/** `14:05`. */
export function clockTime(at: number, zone: string): string {
  return format(zone, { hour: "2-digit", minute: "2-digit", hourCycle: "h23" }).format(at);
}

/** `2026-03-04`: the local date, for comparing days. */
export function localDate(at: number, zone: string): string {
  const parts = format(zone, { year: "numeric", month: "2-digit", day: "2-digit" }).formatToParts(at);
  const part = (type: string) => parts.find((p) => p.type === type)?.value ?? "";
  return `${part("year")}-${part("month")}-${part("day")}`;
}

/** `Tuesday`. */
export function weekdayName(at: number, zone: string): string {
  return format(zone, { weekday: "long" }).format(at);
}

/** `today 14:05`, `yesterday 9:30`, `Tue 9:30` within a week either way, else `24 Mar 10:00`. */
export function dayTime(at: number, zone: string, now: number): string {
  const time = clockTime(at, zone);
  const day = 86_400_000;
  if (localDate(at, zone) === localDate(now, zone)) return `today ${time}`;
  if (localDate(at, zone) === localDate(now - day, zone)) return `yesterday ${time}`;
  if (localDate(at, zone) === localDate(now + day, zone)) return `tomorrow ${time}`;
  const date = { day: "numeric", month: "short" } as const;
  const options = Math.abs(at - now) < 6 * day ? ({ weekday: "short" } as const) : date;
  return `${format(zone, options).format(at)} ${time}`;
}

/** `Tue 3 Mar 17:00`, with the year where it is not that of `near`: for what may be read on any day. */
export function dateTime(at: number, zone: string, near: number): string {
  const isFar = localDate(at, zone).slice(0, 4) !== localDate(near, zone).slice(0, 4);
  const date = { weekday: "short", day: "numeric", month: "short" } as const;
  const said = format(zone, isFar ? { ...date, year: "numeric" } : date).format(at);
  return `${said.replace(",", "")} ${clockTime(at, zone)}`;
}

/** A time told beside another: `17:00` on the same local day, else with its date. */
export function timeBeside(at: number, zone: string, beside: number): string {
  return localDate(at, zone) === localDate(beside, zone) ? clockTime(at, zone) : dateTime(at, zone, beside);
}

/** What a zone's time is called at that moment: `MST`, `GMT+1`. */
export function zoneName(at: number, zone: string): string {
  let found = names.get(zone);
  if (!found) {
    found = new Intl.DateTimeFormat("en-US", { timeZone: zone, timeZoneName: "short" });
    names.set(zone, found);
  }
  return found.formatToParts(at).find((p) => p.type === "timeZoneName")?.value ?? zone;
}
const names = new Map<string, Intl.DateTimeFormat>();

/** A time that is agreed with somebody, on their clock and on ours: `tomorrow 10:00 there, 12:00 here`. */
export function bothTimes(at: number, theirs: string, ours: string, now: number): string {
  const there = dayTime(at, theirs, now);
  const here = dayTime(at, ours, now);
  if (there === here) return `${there} here and there`;
  const sameDay =
    localDate(at, theirs) === localDate(at, ours) && localDate(now, theirs) === localDate(now, ours);
  return `${there} there, ${sameDay ? clockTime(at, ours) : here} here`;
}

/** A length of time in two units at most: `48 s`, `3 min 20 s`, `2 h 5 min`, `4 days`. Never negative. */
export function duration(ms: number): string {
  const s = Math.floor(Math.abs(ms) / 1000);
  if (s < 60) return `${s} s`;
  const min = Math.floor(s / 60);
  if (min < 60) return s % 60 ? `${min} min ${s % 60} s` : `${min} min`;
  const h = Math.floor(min / 60);
  if (h < 24) return min % 60 ? `${h} h ${min % 60} min` : `${h} h`;
  const days = Math.floor(h / 24);
  return days === 1 ? "1 day" : `${days} days`;
}

/** A running figure that keeps its width: `0:48`, `12:05`, then `3 h 20`, `17 h`, then `4 d`. Never negative. */
export function counter(ms: number): string {
  const s = Math.floor(Math.abs(ms) / 1000);
  if (s < 3600) return `${Math.floor(s / 60)}:${String(s % 60).padStart(2, "0")}`;
  if (s >= 36_000 && s < 86_400) return `${Math.floor(s / 3600)} h`;
  if (s < 36_000) return `${Math.floor(s / 3600)} h ${String(Math.floor((s % 3600) / 60)).padStart(2, "0")}`;
  return `${Math.floor(s / 86_400)} d`;
}

/** How late something is that was due, in words. */
export const lateBy = (ms: number) => `late by ${duration(ms)}: the desk was off`;

/** A local date so many days later, or earlier: `2026-03-04`, one day on, is `2026-03-05`. Throws on what is no date. */
export const dateBeside = (date: string, days: number): string =>
  Temporal.PlainDate.from(date).add({ days }).toString();

/** A day of the calendar such as `2026-03-04`, with its year where that is another than at `now`: `Wed 4 Mar`. */
export function sayDay(date: string, zone: string, now: number): string {
  const at = Temporal.PlainDate.from(date).toZonedDateTime("UTC").epochMilliseconds;
  const isFar = date.slice(0, 4) !== localDate(now, zone).slice(0, 4);
  const day = { weekday: "short", day: "numeric", month: "short" } as const;
  return format("UTC", isFar ? { ...day, year: "numeric" } : day)
    .format(at)
    .replace(",", "");
}
