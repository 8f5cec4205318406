import { sql as raw } from "kysely";
import { undoable } from "../../core/desk/undo.ts";
import { called } from "../../core/lead/called.ts";
import { entryOf } from "../../core/lead/events.ts";
import { foldAll } from "../../core/lead/fold.ts";
import type { Bell, Lead } from "../../core/lead/lead.ts";
import { presence } from "../../core/policy/people.ts";
import { DAY_KINDS, type Day, type DayEvent, hourOf, tellDay, usualByHour } from "../../core/report/today.ts";
import { endOfDay, startOfDay, startOfLocalDate } from "../../core/time/defer.ts";
import { localDate } from "../../core/time/words.ts";
import type { Engine } from "../engine/engine.ts";
import { testLeads } from "../read/tests.ts";

/** From how many of the same weekdays before it is told what is usual. */
const WEEKS = 4;
const DAY = 86_400_000;
/** So long a day is the same while nothing happens (ms). */
const FRESH = 2_000;
/** So much of what one person did is listed. */
const MOST_DONE = 300;
/** So many leads that wait are looked through. */
const MOST_WAITING = 5_000;

export interface PersonToday {
  readonly id: string;
  readonly name: string;
  readonly onDuty: boolean;
  readonly tries: number;
  readonly reached: number;
  readonly taken: number;
  /** Open leads they have, how many of those rang or are overdue; null of a past day. */
  readonly has: number | null;
  readonly behind: number | null;
  /** Since when their oldest lead that nobody has tried waits (epoch ms). */
  readonly oldestUntried: number | null;
}

export interface TodayFigures extends Omit<Day, "people"> {
  readonly date: string;
  readonly from: number;
  readonly to: number;
  /** Whether it is the day that is going on. */
  readonly live: boolean;
  readonly usual: readonly number[];
  /** How things stand now; null of a past day. */
  readonly waiting: number | null;
  readonly rung: number | null;
  readonly repliesWaiting: number | null;
  readonly dueLeft: number | null;
  readonly people: readonly PersonToday[];
}

/** Something one of ours did. */
export interface Done {
  readonly leadId: string;
  readonly name: string;
  readonly at: number;
  readonly said: string;
  /** The act it can be taken back by; null where it no longer can. */
  readonly actId: string | null;
}

/** What a day has come to so far, or came to. */
export class Today {
  readonly #desk: Engine;
  /** The day as it was told last: every Desk that is open asks after each thing that happens, and gets the same. */
  #told: { readonly by: readonly unknown[]; readonly figures: TodayFigures | null } | null = null;

  constructor(desk: Engine) {
    this.#desk = desk;
  }

  /** The figures of a local date of the desk, of today without one; null when it is no date, or still to come. */
  figures(date: string | null): TodayFigures | null {
    const { clock, setup, reader } = this.#desk;
    const by = [date, setup, reader.lastEvent(), Math.floor(clock.now() / FRESH)];
    if (!this.#told?.by.every((part, i) => part === by[i])) this.#told = { by, figures: this.#figures(date) };
    return this.#told.figures;
  }

  #figures(date: string | null): TodayFigures | null {
    const { clock, setup } = this.#desk;
    const now = clock.now();
    const span = this.#span(date);
    if (!span || span.from > now) return null;
    const { from, to } = span;
    const { zone } = setup.policies.desk;
    const live = now < to;
    const day = tellDay(this.#events(from, to), this.#bells(from, to), { zone, now: Math.min(now, to) });
    const dayEnd = endOfDay(now, zone);
    const counts = live ? this.#desk.reader.counts(dayEnd) : null;
    const answer = live ? this.#desk.reader.band("answer", dayEnd, MOST_WAITING) : [];
    return {
      ...day,
      date: localDate(from, zone),
      from,
      to,
      live,
      usual: this.#usual(from, zone),
      waiting: counts?.answer ?? null,
      rung: counts?.rung ?? null,
      repliesWaiting: counts && answer.filter((lead) => lead.replyWaiting !== null).length,
      dueLeft: counts && counts.answer + counts.rung + counts.again + counts.today,
      people: this.#people(day, live, now),
    };
  }

  /** What somebody did on a day, the newest first; null when it is no date. */
  doneBy(personId: string, date: string | null): Done[] | null {
    const span = this.#span(date);
    if (!span) return null;
    const { sql, looker, setup, clock, reader } = this.#desk;
    const now = clock.now();
    const rows = sql.all(
      sql.q
        .selectFrom("events")
        .select(["leadId", "actId"])
        .where("at", ">=", span.from)
        .where("at", "<", span.to)
        .where("actorJson", "=", JSON.stringify({ kind: "person", id: personId }))
        .orderBy("n", "desc")
        .limit(MOST_DONE * 4),
    );
    const acts = new Map(rows.map(({ leadId, actId }) => [actId, leadId]));
    return [...acts].slice(0, MOST_DONE).flatMap(([actId, leadId]) => {
      const lead = looker.lead(leadId);
      const events = reader.events(leadId);
      const act = events.filter((e) => e.actId === actId);
      const shown = act.find((e) => e.actor.kind === "person" && !entryOf(e).unshown?.(e.data));
      if (!lead || !shown) return [];
      return [
        {
          leadId,
          name: called(lead),
          at: shown.at,
          said: entryOf(shown).said(shown.data, setup, shown),
          actId: "actId" in undoable(events, actId, now) ? actId : null,
        },
      ];
    });
  }

  #span(date: string | null): { from: number; to: number } | null {
    const { clock, setup } = this.#desk;
    const { zone } = setup.policies.desk;
    const from = date === null ? startOfDay(clock.now(), zone) : startOfLocalDate(date, zone);
    return from === null ? null : { from, to: endOfDay(from, zone) };
  }

  #events(from: number, to: number): DayEvent[] {
    const { sql, looker } = this.#desk;
    const tests = testLeads(sql, looker.leads);
    const rows = sql.all(
      sql.q
        .selectFrom("events")
        .select(["leadId", "kind", "at", "actorJson", "dataJson"])
        .where("at", ">=", from)
        .where("at", "<", to)
        .where("kind", "in", DAY_KINDS),
    );
    return rows
      .filter(({ leadId }) => !tests.has(leadId))
      .map(
        ({ actorJson, dataJson, ...row }) =>
          ({ ...row, actor: JSON.parse(actorJson), data: JSON.parse(dataJson) }) as DayEvent,
      );
  }

  /** The response bells that began then, as they stood at the end: of each lead the last. */
  #bells(from: number, to: number): Bell[] {
    const { sql, looker, reader } = this.#desk;
    const tests = testLeads(sql, looker.leads);
    const begun = sql.all(
      sql.q
        .selectFrom("events")
        .select("leadId")
        .distinct()
        .where("at", ">=", from)
        .where("at", "<", to)
        .where("kind", "=", "bell-started"),
    );
    return begun.flatMap(({ leadId }) => {
      if (tests.has(leadId)) return [];
      const now = looker.lead(leadId)?.bell;
      if (now && now.startedAt >= from && now.startedAt < to) return [now];
      // Another has begun since: what was then is told by the events of then.
      const then = foldAll(reader.events(leadId).filter((e) => e.at < to))?.bell;
      return then ? [then] : [];
    });
  }

  #usual(from: number, zone: string): readonly number[] {
    const { sql } = this.#desk;
    const days = Array.from({ length: WEEKS }, (_, week) => {
      // By dates: a week with a change of clocks is not seven times 24 hours.
      const begins = startOfDay(from - (week + 1) * 7 * DAY + DAY / 2, zone);
      const hours = Array.from({ length: 24 }, () => 0);
      const rows = sql.all(
        sql.q
          .selectFrom("events")
          .select("at")
          .where("at", ">=", begins)
          .where("at", "<", endOfDay(begins, zone))
          .where("kind", "=", raw.lit("inquiry")),
      );
      for (const { at } of rows) hours[hourOf(at, zone)]!++;
      return { hours, any: rows.length > 0 };
    });
    // Weeks before the desk began say nothing of what is usual.
    return usualByHour(days.filter((d) => d.any).map((d) => d.hours));
  }

  #people(day: Day, live: boolean, now: number): PersonToday[] {
    const { setup, reader } = this.#desk;
    return setup.people
      .filter((p) => (p.role === "salesperson" && !p.left) || day.people.has(p.id))
      .map((person) => {
        const theirs = live ? reader.theirs(person.id) : [];
        const untried = theirs.filter((lead) => lead.tries === 0).map((lead) => lead.createdAt);
        return {
          id: person.id,
          name: person.name,
          onDuty: presence(person, now).onDuty,
          ...(day.people.get(person.id) ?? { tries: 0, reached: 0, taken: 0 }),
          has: live ? theirs.length : null,
          behind: live ? theirs.filter((lead) => isBehind(lead, now)).length : null,
          oldestUntried: untried.length > 0 ? Math.min(...untried) : null,
        };
      });
  }
}

/** Whether a lead should have been seen to before now. */
const isBehind = (lead: Lead, now: number): boolean =>
  lead.bell?.state === "rung" || (lead.nextStep !== null && lead.nextStep.dueAt < now);
