import { sql as raw } from "kysely";
import { isTheirs } from "../../core/access/access.ts";
import type { Plan } from "../../core/desk/plan.ts";
import type { Lead } from "../../core/lead/lead.ts";
import { type Band, bandOf, placeOf } from "../../core/lead/queue.ts";
import { inRounds, paceOf, type RoundBand } from "../../core/lead/rounds.ts";
import type { Person } from "../../core/policy/people.ts";
import { nameOf } from "../../core/policy/setup.ts";
import { type Refused, refuse } from "../../core/refusal.ts";
import { endOfDay, startOfDay } from "../../core/time/defer.ts";
import type { Engine } from "../engine/engine.ts";

/** How long a lead on somebody's screen is theirs without another word of it (ms). */
const THEIRS = 10 * 60_000;
/** So many leads of each band are looked at: more nobody does in a day. */
const MOST = 400;
/** As a literal: only so is the index of a day's work used. */
const WORK = raw<boolean>`kind in ('tried','task-done','closed','parked')`;
const BANDS: readonly Band[] = ["answer", "rung", "again", "today"];

export interface RoundItem {
  readonly lead: Lead;
  readonly band: RoundBand;
  readonly dueAt: number;
  /** Who else has it on their screen; null when nobody has. */
  readonly with: string | null;
  readonly skipped: boolean;
}

export interface Rounds {
  readonly items: readonly RoundItem[];
  /** Leads seen to today, and how many are left. */
  readonly done: number;
  readonly left: number;
  /** About how long the rest takes at this person's pace (ms). */
  readonly takes: number;
}

interface Claim {
  readonly personId: string;
  /** By a clock that never goes back. */
  readonly until: number;
}

/** What a person did in their day. */
interface Day {
  readonly from: number;
  readonly leads: Set<string>;
  readonly times: number[];
}

/** The guided run through a day's work. Who has which lead on their screen is kept in memory alone. */
export class RoundsOf {
  readonly #desk: Engine;
  readonly #elapsed: () => number;
  readonly #claims = new Map<string, Claim>();
  readonly #days = new Map<string, Day>();

  constructor(desk: Engine, elapsed: () => number = () => performance.now()) {
    this.#desk = desk;
    this.#elapsed = elapsed;
    desk.onPlan((plan) => this.#heed(plan));
  }

  #day(personId: string): Day {
    const { clock, setup, sql } = this.#desk;
    const from = startOfDay(clock.now(), setup.policies.desk.zone);
    let day = this.#days.get(personId);
    if (day?.from === from) return day;
    day = { from, leads: new Set(), times: [] };
    this.#days.set(personId, day);
    // What was done before a restart counts as well.
    const rows = sql.all(
      sql.q
        .selectFrom("events")
        .select(["leadId", "at", "actorJson", "kind"])
        .where("at", ">=", from)
        .where(WORK)
        // In the order of that index: by their number alone, all events there are would be looked through.
        .orderBy("at")
        .orderBy("n"),
    );
    for (const { leadId, at, actorJson } of rows) {
      const actor = JSON.parse(actorJson) as { kind: string; id?: string };
      if (actor.kind === "person" && actor.id === personId) this.#did(day, leadId, at);
    }
    return day;
  }

  #did(day: Day, leadId: string, at: number): void {
    if (day.leads.has(leadId)) return;
    day.leads.add(leadId);
    day.times.push(at);
  }

  #heed({ leadId, events }: Plan): void {
    for (const { actor, kind, at } of events)
      if (
        actor.kind === "person" &&
        (kind === "tried" ||
          kind === "task-done" ||
          kind === "closed" ||
          kind === "parked" ||
          kind === "next-step")
      ) {
        const day = this.#days.get(actor.id);
        if (day) this.#did(day, leadId, at);
      }
  }

  #holder(leadId: string, but: string): string | null {
    const claim = this.#claims.get(leadId);
    if (!claim || claim.personId === but) return null;
    return claim.until > this.#elapsed() ? claim.personId : null;
  }

  /** The day's work of somebody in its order: all of the desk's for whoever sees it all, else what is theirs. */
  of(person: Person, all: boolean): Rounds {
    const { clock, setup, reader } = this.#desk;
    const now = clock.now();
    const dayEnd = endOfDay(now, setup.policies.desk.zone);
    const dayBegin = startOfDay(now, setup.policies.desk.zone);
    const own = reader.withTasksOf(person.id);
    const leads = all
      ? BANDS.flatMap((band) => reader.band(band, dayEnd, MOST)).filter((lead) => !lead.test)
      : reader.theirsDue(person.id, dayEnd, MOST).filter((lead) => isTheirs(lead, person.id));
    const ordered = inRounds([...leads, ...own], person.id, now, dayBegin, dayEnd);
    const items = ordered.map((item) => {
      const holder = this.#holder(item.lead.id, person.id);
      return { ...item, with: holder && nameOf(setup, holder) };
    });
    const day = this.#day(person.id);
    const left = items.length;
    return { items, done: day.leads.size, left, takes: left * paceOf(day.times) };
  }

  /** Somebody has the lead on their screen from now on; refused with whose it is when somebody else has. */
  begin(leadId: string, personId: string): { readonly ok: true } | Refused {
    const holder = this.#holder(leadId, personId);
    if (holder)
      return refuse(
        "somebody-is-in-it",
        409,
        "Somebody is in it",
        `${nameOf(this.#desk.setup, holder)} has this lead on their screen.`,
      );
    for (const [id, claim] of this.#claims)
      if (claim.personId === personId && id !== leadId) this.#claims.delete(id);
    this.#claims.set(leadId, { personId, until: this.#elapsed() + THEIRS });
    this.#tell();
    return { ok: true };
  }

  /** They have left it. */
  leave(leadId: string, personId: string): void {
    if (this.#claims.get(leadId)?.personId !== personId) return;
    this.#claims.delete(leadId);
    this.#tell();
  }

  /** What somebody has done today, and what waits tomorrow: for the end of the rounds. */
  dayOf(person: Person, all: boolean): { tries: number; reached: number; leads: number; tomorrow: number } {
    const { clock, setup, sql, reader } = this.#desk;
    const { zone } = setup.policies.desk;
    const now = clock.now();
    const from = startOfDay(now, zone);
    const rows = sql.all(
      sql.q.selectFrom("events").select(["dataJson", "kind"]).where(WORK).where("at", ">=", from),
    );
    const tries = rows
      .filter((r) => r.kind === "tried")
      .map((r) => JSON.parse(r.dataJson) as { personId: string; reached: boolean })
      .filter((t) => t.personId === person.id);
    const dayEnd = endOfDay(now, zone);
    const nextEnd = endOfDay(dayEnd, zone);
    const due = (lead: Lead) => {
      const band = bandOf(placeOf(lead), nextEnd);
      return band === "again" || band === "today";
    };
    const tomorrow = all
      ? reader.counts(nextEnd).again +
        reader.counts(nextEnd).today -
        reader.counts(dayEnd).again -
        reader.counts(dayEnd).today
      : reader
          .theirs(person.id)
          .filter((l) => due(l) && !["again", "today"].includes(bandOf(placeOf(l), dayEnd) ?? "")).length;
    return {
      tries: tries.length,
      reached: tries.filter((t) => t.reached).length,
      leads: this.#day(person.id).leads.size,
      tomorrow,
    };
  }

  #tell(): void {
    this.#desk.feed.publish({ n: 0, leadId: null, kinds: ["rounds"] });
  }
}
