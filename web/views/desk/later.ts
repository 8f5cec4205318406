import { Temporal } from "temporal-polyfill";
import { inDays, nextWallTime } from "../../../core/time/defer.ts";

/** A time a message may be sent at. */
export interface Later {
  readonly key: "now" | "hour" | "evening" | "morning" | "monday" | "own";
  readonly name: string;
  /** Epoch ms; null while none is chosen. */
  readonly at: number | null;
}

/** When a message may go, as people say it, at the lead's own place. `own` is a wall time as a date field gives it. */
export function laterTimes(now: number, zone: string, own: string): readonly Later[] {
  const day = Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(zone).dayOfWeek;
  return [
    { key: "now", name: "Now", at: now },
    { key: "hour", name: "In an hour", at: now + 3_600_000 },
    { key: "evening", name: "At six in the evening", at: nextWallTime(now, zone, "18:00") },
    { key: "morning", name: "Tomorrow morning", at: inDays(now, zone, { days: 1, at: "09:00" }) },
    {
      key: "monday",
      name: "Next Monday",
      at: inDays(now, zone, { days: (8 - day) % 7 || 7, at: "09:00" }),
    },
    { key: "own", name: "At another time …", at: readOwn(own, zone) },
  ];
}

function readOwn(own: string, zone: string): number | null {
  return own ? Temporal.PlainDateTime.from(own).toZonedDateTime(zone).epochMilliseconds : null;
}
