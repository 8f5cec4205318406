import { Temporal } from "temporal-polyfill";
import type { LeadEvent } from "../lead/events.ts";
import type { Bell } from "../lead/lead.ts";

/** What of an event a day is told from. */
export type DayEvent = Pick<LeadEvent, "leadId" | "at" | "actor" | "kind" | "data">;

/** What one of ours has done on a day. */
export interface PersonsDay {
  /** Tries logged, by whichever way. */
  readonly tries: number;
  /** Leads they talked with. */
  readonly reached: number;
  /** Leads they took. */
  readonly taken: number;
}

/** What happened on a day. */
export interface Day {
  /** Inquiries that came in. */
  readonly cameIn: number;
  /** The same by hour of the desk's clock: 24 numbers. An hour that comes twice counts both. */
  readonly byHour: readonly number[];
  /** Response targets that began on the day and are due by `now`, or answered before. */
  readonly targets: number;
  /** Those of them that somebody answered in time. */
  readonly inTarget: number;
  /** Leads that rang. */
  readonly rang: number;
  readonly tries: number;
  /** Leads somebody talked with. */
  readonly reached: number;
  /** Offers nobody took in time. */
  readonly lapsed: number;
  readonly people: ReadonlyMap<string, PersonsDay>;
}

/** Kinds of event {@link tellDay} reads. */
export const DAY_KINDS = ["inquiry", "rang", "tried", "lapsed", "taken", "called-in"] as const;

/** At which hour of a zone's clock something was (0 to 23). */
export const hourOf = (at: number, zone: string): number =>
  Temporal.Instant.fromEpochMilliseconds(Math.floor(at)).toZonedDateTimeISO(zone).hour;

/**
 * What a day came to, told by its events, in any order, and by the response bells that began on it as they stood at its
 * end. `zone` is the desk's, `now` the moment up to which it is told (epoch ms).
 */
export function tellDay(
  events: readonly DayEvent[],
  bells: readonly Bell[],
  { zone, now }: { readonly zone: string; readonly now: number },
): Day {
  const byHour = Array.from({ length: 24 }, () => 0);
  const reached = new Set<string>();
  const rang = new Set<string>();
  let [tries, lapsed] = [0, 0];
  const people = new Map<string, { tries: number; taken: number; reached: Set<string> }>();
  const of = (id: string) => {
    const known = people.get(id) ?? { tries: 0, taken: 0, reached: new Set<string>() };
    people.set(id, known);
    return known;
  };
  for (const event of events as readonly LeadEvent[]) {
    const { leadId, at } = event;
    switch (event.kind) {
      case "inquiry":
        byHour[hourOf(at, zone)]!++;
        break;
      case "rang":
        rang.add(leadId);
        break;
      case "lapsed":
        lapsed++;
        break;
      case "taken":
        of(event.data.personId).taken++;
        break;
      case "tried": {
        tries++;
        of(event.data.personId).tries++;
        if (!event.data.reached) break;
        reached.add(leadId);
        of(event.data.personId).reached.add(leadId);
        break;
      }
      case "called-in":
        if (event.data.result !== "answered") break;
        reached.add(leadId);
        if (event.data.personId) of(event.data.personId).reached.add(leadId);
        break;
    }
  }
  const told = bells.filter((b) => b.state !== "excused" && (b.answeredAt !== null || b.dueAt <= now));
  return {
    cameIn: byHour.reduce((sum, n) => sum + n, 0),
    byHour,
    targets: told.length,
    inTarget: told.filter((b) => b.answeredAt !== null && b.answeredAt <= b.dueAt).length,
    rang: rang.size,
    tries,
    reached: reached.size,
    lapsed,
    people: new Map([...people].map(([id, p]) => [id, { ...p, reached: p.reached.size }])),
  };
}

/** What is usual by hour: the mean of the same hours of some days; all 0 of none. */
export const usualByHour = (days: readonly (readonly number[])[]): readonly number[] =>
  Array.from({ length: 24 }, (_, hour) =>
    days.length === 0 ? 0 : days.reduce((sum, day) => sum + day[hour]!, 0) / days.length,
  );
