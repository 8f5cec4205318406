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
