import { Temporal } from "temporal-polyfill";
import { nextWallTime } from "./defer.ts";

/**
 * When something is due next after `now` (epoch ms): each day at its wall time `HH:MM` in a zone, or only on a weekday (1 is
 * Monday, 7 Sunday). Throws on what is no time.
 */
export function nextWeekly(
  { weekday, time }: { readonly weekday: number | null; readonly time: string },
  zone: string,
  now: number,
): number {
  let at = nextWallTime(now, zone, time);
  if (weekday === null) return at;
  for (let days = 0; days < 8 && isoWeekday(at, zone) !== weekday; days++) at = nextWallTime(at, zone, time);
  return at;
}

/** 1 (Monday) to 7. */
const isoWeekday = (at: number, zone: string): number =>
  Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone).dayOfWeek;

/** A minute of the day as its wall time, `08:05`. */
export const wallTime = (minute: number): string =>
  `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;
