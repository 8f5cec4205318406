import { type Compilable, sql as raw, type SqlBool } from "kysely";
import { coverFor, uncover } from "../../core/desk/hand-off.ts";
import { comesBack, coverNow, waitsOnOwner } from "../../core/desk/waits.ts";
import type { Lead } from "../../core/lead/lead.ts";
import { unpackLead } from "../../core/lead/pack.ts";
import { isOff, type Person } from "../../core/policy/people.ts";
import { personOf } from "../../core/policy/setup.ts";
import { endOfDay } from "../../core/time/defer.ts";
import type { Engine } from "../engine/engine.ts";
import { Recurring } from "../timers/recurring.ts";

/** How often the clock is looked at (ms). */
const NAP = 1_000;
/** The longest between two looks (ms): steps fall due and people write while somebody is away. */
const LONGEST = 15 * 60_000;

/**
 * Sees to what waits on people who are away: it goes to whoever covers, and comes back with them. A look is due when an
 * absence begins or ends, when somebody goes on or off duty, and every quarter of an hour while somebody is away.
 */
export class Roster extends Recurring {
  readonly #desk: Engine;

  constructor(desk: Engine) {
    super(desk, NAP);
    this.#desk = desk;
    desk.onSetup({ after: () => this.plan() });
    this.plan();
  }

  /** Find out when to look next; after every change of people. */
  plan(): void {
    const now = this.#desk.clock.now();
    const { people } = this.#desk.setup;
    const edges = people
      .flatMap((p) => [
        ...p.absences.flatMap((a) => [a.from, a.to]),
        ...(isOff(p, now) ? [p.offUntil ?? 0] : []),
      ])
      .filter((at) => at > now);
    const away = people.some((p) => coverNow(p, now, now));
    this.nextDue = Math.min(away ? now + LONGEST : Number.POSITIVE_INFINITY, ...edges);
  }

  /** Move what waits on those who are away, and bring back what is theirs. Returns how many leads moved. */
  run(): number {
    const { setup, clock } = this.#desk;
    const now = clock.now();
    let moved = 0;
    for (const person of setup.people) {
      const cover = coverNow(person, now, endOfDay(now, setup.policies.desk.zone));
      if (cover) moved += this.#lend(person, cover);
    }
    for (const lead of this.#lent()) {
      const person = personOf(setup, lead.coversFor);
      if (!person || !comesBack(person, now)) continue;
      this.#desk.act(lead.id, (world) => uncover(world, person.id));
      moved++;
    }
    this.plan();
    this.#desk.feed.publish({ n: 0, leadId: null, kinds: ["roster"] });
    return moved;
  }

  #lend(person: Person, { coverId, reason, until }: NonNullable<ReturnType<typeof coverNow>>): number {
    const { q } = this.#desk.sql;
    // What stands in a band that is worked before then: found by the row alone, so that few leads are read whole.
    const near = q
      .selectFrom("leads")
      .select("leadJson")
      .where("holderId", "=", person.id)
      .where((eb) => eb.or([eb("place", "in", ["answer", "rung"]), eb("placeAt", "<", until)]))
      .where("place", "not in", ["idle", "closed"]);
    const waiting = this.#read(near).filter(
      (lead) => lead.ownerId === person.id && waitsOnOwner(lead, until),
    );
    for (const lead of waiting)
      this.#desk.act(lead.id, (world) => coverFor(world, person.id, coverId, `${person.name} ${reason}`));
    return waiting.length;
  }

  /** Leads that are with somebody who only covers. */
  #lent(): Lead[] {
    const { q } = this.#desk.sql;
    const covers = this.#desk.setup.people.flatMap((p) => [p.cover, ...p.absences.map((a) => a.coverId)]);
    const ids = [...new Set(covers)].filter((id): id is string => !!id);
    if (ids.length === 0) return [];
    const lent = q.selectFrom("leads").select("leadJson").where("holderId", "in", ids);
    return this.#read(lent.where(raw<SqlBool>`json_extract(leadJson, '$.coversFor') is not null`));
  }

  #read(query: Compilable<{ leadJson: string }>): Lead[] {
    return this.#desk.sql.all(query).map((row) => unpackLead(row.leadJson));
  }
}
