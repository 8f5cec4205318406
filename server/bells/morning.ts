import { sql as raw } from "kysely";
import { calendarAround } from "../../core/policy/people.ts";
import { nameOf } from "../../core/policy/setup.ts";
import { isWorthTelling, type MorningFacts, morningParts, morningText } from "../../core/report/morning.ts";
import { nextOpening, openSpanBefore } from "../../core/time/calendar.ts";
import { endOfDay } from "../../core/time/defer.ts";
import { localDate, weekdayName } from "../../core/time/words.ts";
import type { Engine } from "../engine/engine.ts";
import type { Sources } from "../source/sources.ts";
import { Recurring } from "../timers/recurring.ts";

/** How often the clock is looked at (ms). */
const NAP = 1_000;
/** Under which name it is kept on which day managers were last told. */
const TOLD = "morning-told";

/** Tells managers each morning, as the desk opens, how things stand. Once a day, whatever is restarted when. */
export class Morning extends Recurring {
  readonly #desk: Engine;
  readonly #sources: Sources;

  constructor(desk: Engine, sources: Sources) {
    super(desk, NAP);
    this.#desk = desk;
    this.#sources = sources;
    desk.onSetup({ after: () => this.plan() });
    this.plan();
  }

  /**
   * Find out when the next summary is due: as the desk next opens, or now when it is open and today's was missed. One
   * that is not switched on is never due.
   */
  plan(): void {
    const { setup, clock, kept } = this.#desk;
    const { desk, morning } = setup.policies;
    const now = clock.now();
    const told = kept.counter(TOLD);
    // A desk that has just begun has no morning behind it.
    if (told === null) kept.setCounter(TOLD, this.#today());
    const missed = told !== null && told < this.#today();
    const from = missed ? now : endOfDay(now, desk.zone);
    const next = nextOpening(calendarAround(desk, now), from);
    this.nextDue = morning.on && next !== null ? next : Number.POSITIVE_INFINITY;
  }

  /** The date as a number that grows: `20260304`. */
  #today(): number {
    return Number(localDate(this.#desk.clock.now(), this.#desk.setup.policies.desk.zone).replaceAll("-", ""));
  }

  /** The desk has opened: tell managers, unless they were told today. */
  run(): void {
    this.#desk.sql.transaction(() => {
      if (isWorthTelling(this.facts())) this.send(String(this.#today()));
      this.#desk.kept.setCounter(TOLD, this.#today());
    });
    this.plan();
  }

  /** Send the summary to every manager. `key` tells one sending from the next. Returns how many messages it makes. */
  send(key: string): number {
    const desk = this.#desk;
    const { policies, people } = desk.setup;
    const parts = morningParts(this.facts());
    const page = (path: string) => desk.links.page(path);
    const now = desk.clock.now();
    const subject = `${weekdayName(now, policies.desk.zone)} morning at the lead desk`;
    const managers = people.filter((p) => p.role === "manager" && !p.left);
    let made = 0;
    desk.sql.transaction(() => {
      for (const person of managers)
        for (const channel of policies.morning.ways) {
          const to = person[channel];
          if (!to) continue;
          desk.queueNotice({
            channel,
            to,
            personId: person.id,
            key: `morning:${key}:${person.id}:${channel}`,
            subject: channel === "email" ? subject : null,
            body:
              channel === "email"
                ? morningText(parts, false, page)
                : `*${subject}*\n\n${morningText(parts, true, page)}`,
            purpose: "morning",
          });
          made++;
        }
    });
    desk.outbox.kick();
    return made;
  }

  /** What the summary is told from, as things stand now. */
  facts(): MorningFacts {
    const { setup, sql, clock, reader } = this.#desk;
    const sources = this.#sources;
    const now = clock.now();
    const { zone } = setup.policies.desk;
    const last = openSpanBefore(calendarAround(setup.policies.desk, now), now);
    const since = last?.to ?? now - 86_400_000;
    const came = new Map<string, number>();
    // Counted here: grouped by the database, all inquiries there ever were would be looked through by their sources.
    const rows = sql.q.selectFrom("inquiries").select("sourceId").where("receivedAt", ">=", since);
    for (const { sourceId } of sql.all(rows.where("test", "=", 0)))
      came.set(sourceId, (came.get(sourceId) ?? 0) + 1);
    const counts = reader.counts(endOfDay(now, zone));
    return {
      zone,
      now,
      since,
      cameIn: [...came]
        .map(([sourceId, n]) => ({
          source: setup.sources.find((s) => s.id === sourceId)?.name ?? "a source no longer here",
          count: n,
        }))
        .sort((a, b) => b.count - a.count),
      waiting: { answer: counts.answer, rung: counts.rung, again: counts.again, today: counts.today },
      rang: this.#rang(last?.from ?? since, now),
      away: setup.people.flatMap((person) => {
        const absence = person.absences.find((a) => a.from <= now && now < a.to);
        return absence && !person.left
          ? [
              {
                name: person.name,
                until: absence.to,
                reason: absence.reason,
                cover: absence.coverId && nameOf(setup, absence.coverId),
              },
            ]
          : [];
      }),
      quiet: setup.sources.filter((s) => s.state === "live" && sources.isQuiet(s.id, now)).map((s) => s.name),
    };
  }

  /** How many leads rang since then, and how many nobody has tried since. */
  #rang(from: number, now: number): MorningFacts["rang"] {
    const { sql, looker } = this.#desk;
    const rang = sql.all(
      sql.q
        .selectFrom("events")
        .select(["leadId", (eb) => eb.fn.max("at").as("at")])
        // A literal, so that the index of what rang is used.
        .where("kind", "=", raw.lit("rang"))
        .where("at", ">=", from)
        .where("at", "<", now)
        .groupBy("leadId"),
    );
    const real = rang.flatMap(({ leadId, at }) => {
      const lead = looker.lead(leadId);
      return lead && !lead.test ? [(lead.lastTryAt ?? 0) > Number(at)] : [];
    });
    return { leads: real.length, untried: real.filter((tried) => !tried).length };
  }
}
