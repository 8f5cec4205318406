import type { z } from "zod";
import { cadenceName } from "../../core/cadence/run.ts";
import { inWords } from "../../core/condition/condition.ts";
import { simulateBell } from "../../core/desk/simulate.ts";
import { called } from "../../core/lead/called.ts";
import { catalogue, namesIn } from "../../core/lead/fields.ts";
import type { Lead } from "../../core/lead/lead.ts";
import { BELLS } from "../../core/policy/bell-names.ts";
import { SIGNALS, type Signal, STRONG_SIGNALS } from "../../core/policy/parking.ts";
import { calendarAround, presence } from "../../core/policy/people.ts";
import { nameOf, type Setup } from "../../core/policy/setup.ts";
import { AGES, LIST_PARTS, type ListPart, onList } from "../../core/report/managers-list.ts";
import { morningParts } from "../../core/report/morning.ts";
import { startOfDay } from "../../core/time/defer.ts";
import { countries, regionsOf } from "../../core/time/holidays.ts";
import { openSpans } from "../../core/time/spans.ts";
import { localDate } from "../../core/time/words.ts";
import type { Desk } from "../../server/desk.ts";
import type { ParkedFilter } from "../../server/read/reader.ts";
import type * as wire from "./bells-schemas.ts";
import { calmOf, iso, isoOrNull, plansOf, toRow } from "./shape.ts";

/** Bells, hours, parking and the manager's list, from the engine's objects to the wire's. */

const DAY = 86_400_000;
/** Wake rules tell how often they fired in so many days. */
const FIRED_DAYS = 90;
const MOST_ON_LIST = 500;

/** The same, as the wire has it: what is sent is not readonly. */
const plain = <T>(value: unknown) => structuredClone(value) as T;

const fieldsOf = (setup: Setup) => plain<wire.BellsSetup["catalogue"]>(catalogue(setup));

export function toBells(desk: Desk): wire.BellsSetup {
  const { setup, sql } = desk;
  const { targets, ladders, late, counts, tags } = setup.policies;
  const running = sql.get(
    sql.q
      .selectFrom("timers")
      .select((eb) => eb.fn.countAll<number>().as("n"))
      .where("kind", "=", "rung"),
  );
  return {
    targets: plain<wire.Target[]>(targets),
    ladders: plain<wire.Ladder[]>(ladders),
    late: plain<wire.BellsSetup["late"]>(late),
    counts: [...counts],
    kinds: (Object.keys(BELLS) as (keyof typeof BELLS)[]).map((key) => ({ key, ...BELLS[key] })),
    catalogue: fieldsOf(setup),
    groups: setup.groups.map(({ id, name }) => ({ id, name })),
    plans: plansOf(setup),
    tags: tags.map((t) => t.name),
    sentences: Object.fromEntries(targets.map((t) => [t.id, inWords(t.when, namesIn(setup))])),
    running: Number(running?.n ?? 0),
    zone: setup.policies.desk.zone,
    places: [...new Set(setup.policies.territories.map((t) => t.zone))].sort(),
  };
}

export function toSimulated(desk: Desk, lead: Lead, sent: z.infer<typeof wire.SimulateBell>): wire.Simulated {
  const { setup } = desk;
  const { targets, ladders, late, about } = sent;
  const draft = { ...setup, policies: { ...setup.policies, targets, ladders, late } };
  const at = sent.at ? Date.parse(sent.at) : about === "inquiry" ? lead.createdAt : desk.clock.now();
  const { steps, target, startedAt, dueAt } = simulateBell(draft, lead, about, at);
  return {
    target,
    startedAt: iso(startedAt),
    dueAt: isoOrNull(dueAt),
    steps: steps.map(({ at, said, told }) => ({ at: iso(at), said, told: [...told] })),
  };
}

export function toHours(desk: Desk): wire.HoursSetup {
  const { desk: hours, holidays } = desk.setup.policies;
  const now = desk.clock.now();
  const today = startOfDay(now, hours.zone);
  const weekday = (new Date(localDate(now, hours.zone)).getUTCDay() + 6) % 7;
  const monday = startOfDay(today - weekday * DAY + DAY / 2, hours.zone);
  const open = openSpans(calendarAround(hours, monday), monday, monday + 14 * DAY);
  return {
    zone: hours.zone,
    week: plain<wire.SaveHours["week"]>(hours.week),
    exceptions: plain<wire.SaveHours["exceptions"]>(hours.exceptions ?? {}),
    holidays: holidays && { ...holidays },
    now: iso(now),
    today: localDate(now, hours.zone),
    zones: Intl.supportedValuesOf("timeZone"),
    countries: countries().map((c) => ({ ...c })),
    regions: holidays ? regionsOf(holidays.country).map((r) => ({ ...r })) : [],
    open: open.map(({ from, to }) => ({ from: iso(from), to: iso(to) })),
  };
}

/** What became of a lead that woke, as it stands now. */
function became(lead: Lead, setup: Setup): string {
  if (lead.closed) return `closed: ${lead.closed.reason.toLowerCase()}`;
  if (lead.parked) return "parked";
  if (lead.ownerId) return `${lead.stage.toLowerCase()}, with ${nameOf(setup, lead.ownerId)}`;
  if (lead.handOff) return `offered to ${lead.handOff.to.map((id) => nameOf(setup, id)).join(", ")}`;
  return "on the manager’s list";
}

export function toParking(desk: Desk): wire.ParkingSetup {
  const { setup, looker, clock } = desk;
  const { wakes } = setup.policies;
  const fired = new Map<
    string,
    { times: number; leads: Set<string>; latest: wire.ParkingSetup["fired"][string]["latest"] }
  >();
  for (const { leadId, at, data } of desk.reader.wakings(clock.now() - FIRED_DAYS * DAY)) {
    const lead = looker.lead(leadId);
    if (!data.ruleId || !lead) continue;
    const rule = fired.get(data.ruleId) ?? { times: 0, leads: new Set(), latest: [] };
    rule.times++;
    rule.leads.add(leadId);
    if (rule.latest.length < 8)
      rule.latest.push({
        leadId,
        name: called(lead),
        at: iso(at),
        signal: data.signal,
        became: became(lead, setup),
      });
    fired.set(data.ruleId, rule);
  }
  return {
    wakes: plain<wire.WakeRule[]>(wakes),
    catalogue: fieldsOf(setup),
    signals: (Object.keys(SIGNALS) as Signal[]).map((key) => ({
      key,
      said: SIGNALS[key],
      strong: STRONG_SIGNALS.includes(key),
    })),
    fired: Object.fromEntries(
      [...fired].map(([id, { times, leads, latest }]) => [id, { times, leads: leads.size, latest }]),
    ),
    zone: setup.policies.desk.zone,
  };
}

export function toParked(
  desk: Desk,
  limit: number,
  cursor: number | null,
  asked: ParkedFilter = {},
): wire.ParkedList {
  const { setup, reader, clock } = desk;
  const now = clock.now();
  const { items, next, found, total } = reader.parked(limit, cursor, asked);
  return {
    items: items.flatMap((lead) => {
      const { parked } = lead;
      if (!parked) return [];
      const run = lead.cadences.find((r) => !r.ended);
      return [
        {
          lead: toRow(lead, desk),
          reason: parked.reason,
          since: iso(parked.at),
          plan: run ? cadenceName(setup, run) : null,
          sent: lead.automatic.filter((at) => at > parked.at).length,
          nextAt: isoOrNull(run?.at ?? null),
          lookAt: isoOrNull(parked.lookAt),
          former: lead.lastOwner && nameOf(setup, lead.lastOwner.personId),
          calm: calmOf(lead, setup, now),
        },
      ];
    }),
    next,
    found,
    total,
    reasons: reader.parkedFor(),
    zone: setup.policies.desk.zone,
  };
}

export function toMorning(desk: Desk): wire.MorningSummary {
  const { on, ways } = desk.setup.policies.morning;
  const due = desk.morning.nextDue;
  return {
    on,
    ways: [...ways],
    parts: morningParts(desk.morning.facts()).map(({ heading, lines, page }) => ({
      heading,
      lines: [...lines],
      page: page ?? null,
    })),
    nextAt: Number.isFinite(due) ? iso(due) : null,
  };
}

export function toManagersList(desk: Desk): wire.ManagersList {
  const { setup, reader, clock, loads } = desk;
  const now = clock.now();
  const parts = new Map<ListPart, wire.ManagersList["parts"][number]["items"]>();
  const per = new Map<string, { rung: number; stuck: number; stalled: number }>();
  for (const lead of reader.inPlaces(["rung", "answer"], MOST_ON_LIST)) {
    const place = onList(lead, setup, now);
    if (!place) continue;
    const { part, why, since } = place;
    parts.set(part, [...(parts.get(part) ?? []), { lead: toRow(lead, desk), why, since: iso(since) }]);
    if (!lead.ownerId || (part !== "rung" && part !== "stuck" && part !== "stalled")) continue;
    const counts = per.get(lead.ownerId) ?? { rung: 0, stuck: 0, stalled: 0 };
    counts[part]++;
    per.set(lead.ownerId, counts);
  }
  const edges = AGES.map(({ days }) => now - days * DAY);
  const ages = reader.openByAge(edges);
  return {
    now: iso(now),
    zone: setup.policies.desk.zone,
    parts: (Object.keys(LIST_PARTS) as ListPart[]).map((part) => ({
      part,
      name: LIST_PARTS[part],
      items: (parts.get(part) ?? []).sort((a, b) => a.since.localeCompare(b.since)),
    })),
    people: setup.people
      .filter((p) => !p.left && (p.role === "salesperson" || per.has(p.id)))
      .map((p) => ({
        id: p.id,
        name: p.name,
        onDuty: presence(p, now).onDuty,
        open: loads[p.id] ?? 0,
        rung: per.get(p.id)?.rung ?? 0,
        stuck: per.get(p.id)?.stuck ?? 0,
        stalled: per.get(p.id)?.stalled ?? 0,
      })),
    ages: AGES.map(({ name }, i) => ({ name, count: ages[i] ?? 0 })),
  };
}
