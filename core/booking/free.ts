import type { BookingPolicy } from "../policy/calls.ts";
import { calendarAround, isOff, type Person } from "../policy/people.ts";
import type { Span } from "../time/spans.ts";

const MINUTE = 60_000;
const DAY = 86_400_000;
/** Calls begin on the half hour of the clock. */
const STEP = 30 * MINUTE;

/**
 * When this person can be called, as starts in epoch ms: inside their hours and outside their absences, with the
 * buffer kept around what is booked already. Starts fall on half hours; a whole call must fit before they go.
 */
export function freeTimes(
  person: Person,
  busy: readonly Span[],
  policy: BookingPolicy,
  now: number,
): number[] {
  // Off duty without an end: nobody knows whether they will be there.
  if (isOff(person, now) && !person.offUntil) return [];
  const { minutes, bufferMinutes, noticeMinutes, daysAhead } = policy;
  const calendar = calendarAround(person.hours, now);
  const first = now + noticeMinutes * MINUTE;
  const last = Math.min(now + daysAhead * DAY, calendar.to);
  const taken = [
    ...busy.map(({ from, to }) => ({ from: from - bufferMinutes * MINUTE, to: to + bufferMinutes * MINUTE })),
    ...person.absences,
  ];
  const free: number[] = [];
  for (let i = 0; i < calendar.starts.length; i++) {
    const opens = calendar.starts[i]!;
    const closes = calendar.ends[i]!;
    if (closes <= first || opens >= last) continue;
    // Zones lie whole or half hours apart but for a few, so half hours of the epoch are half hours of the clock.
    for (let at = Math.ceil(Math.max(opens, first) / STEP) * STEP; at < last; at += STEP) {
      const end = at + minutes * MINUTE;
      if (end > closes) break;
      if (!taken.some((t) => at < t.to && end > t.from)) free.push(at);
    }
  }
  return free;
}
