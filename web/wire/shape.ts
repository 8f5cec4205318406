import { whyNot } from "../../core/cadence/course.ts";
import { outlook } from "../../core/cadence/outlook.ts";
import { planOfRun } from "../../core/cadence/run.ts";
import { readablePhone } from "../../core/contact/readable-phone.ts";
import { kindOf, standsBy } from "../../core/desk/bells.ts";
import { noteText } from "../../core/desk/notes.ts";
import { lastUndoable } from "../../core/desk/undo.ts";
import { bellsOf } from "../../core/lead/bells.ts";
import { completeness } from "../../core/lead/completeness.ts";
import { pausedInWords, stoppedInWords } from "../../core/lead/events/cadences.ts";
import { entryOf, type LeadEvent } from "../../core/lead/events.ts";
import type { CadenceRun, Lead, MaybeSame } from "../../core/lead/lead.ts";
import { BANDS, type Band, bandOf, placeOf, rungSince } from "../../core/lead/queue.ts";
import { noteHtml } from "../../core/message/note.ts";
import { BOOKING } from "../../core/message/outgoing.ts";
import { warnings, whereabouts } from "../../core/message/restraint.ts";
import { wants } from "../../core/message/template.ts";
import { BELLS, RUNGS } from "../../core/policy/bell-names.ts";
import { forParked, planOf, STOPS, type Touch } from "../../core/policy/cadence.ts";
import { sayOwnValue } from "../../core/policy/own-fields.ts";
import { backAt, calendarAround, namesApart, presence } from "../../core/policy/people.ts";
import { nameOf, type Setup } from "../../core/policy/setup.ts";
import { stageName } from "../../core/policy/stages.ts";
import { route } from "../../core/routing/route.ts";
import { closingAfter, nextOpening } from "../../core/time/calendar.ts";
import { endOfDay } from "../../core/time/defer.ts";
import { describeEvent } from "../../core/words/describe.ts";
import { holder } from "../../core/words/holder.ts";
import type { Desk } from "../../server/desk.ts";
import type { QueueFilter } from "../../server/read/reader.ts";
import type * as wire from "./schemas.ts";

/** From the engine's objects to the wire's. Epoch milliseconds become ISO 8601. */

export const iso = (at: number) => new Date(at).toISOString();
export const isoOrNull = (at: number | null | undefined) =>
  at === null || at === undefined ? null : iso(at);

export function toLead(lead: Lead): wire.Lead {
  const {
    id,
    name,
    emails,
    phones,
    company,
    stage,
    sourceId,
    tags,
    ownerId,
    creditId,
    handOff,
    bell,
    tries,
    inquiries,
  } = lead;
  return {
    id,
    name,
    emails: [...emails],
    phones: [...phones],
    company,
    stage,
    sourceId,
    tags: [...tags],
    ownerId,
    creditId,
    handOff: handOff && { state: handOff.state, to: [...handOff.to], until: isoOrNull(handOff.until) },
    bell: {
      state: !bell || bell.state === "excused" ? "none" : bell.state,
      startedAt: isoOrNull(bell?.startedAt),
      dueAt: isoOrNull(bell?.dueAt),
      answeredAt: isoOrNull(bell?.answeredAt),
      rangAt: isoOrNull(bell?.rangAt),
    },
    tries,
    nextStep: lead.nextStep && stepOf(lead),
    cadences: lead.cadences.map(toRun),
    tasks: lead.tasks.map(({ id, note, dueAt, to }) => ({ id, note, dueAt: iso(dueAt), to: [...to] })),
    handedOver: lead.handedOver && { ...lead.handedOver, at: iso(lead.handedOver.at) },
    asked: lead.asked.map(({ to, at, ...a }) => ({ ...a, to: [...to], at: iso(at) })),
    customer: lead.customer && { since: iso(lead.customer.since) },
    inquiries,
    createdAt: iso(lead.createdAt),
    lastActivityAt: iso(lead.lastActivityAt),
    closed: lead.closed && { reason: lead.closed.reason, at: iso(lead.closed.at) },
    erasing: lead.erasing && { dueAt: iso(lead.erasing.dueAt) },
    erased: lead.erased && { at: iso(lead.erased.at) },
    engaged: lead.engaged && {
      personId: lead.engaged.personId,
      how: lead.engaged.how,
      until: iso(lead.engaged.until),
    },
    listed: lead.listed && { reason: lead.listed.reason, at: iso(lead.listed.at) },
    replyWaiting: isoOrNull(lead.replyWaiting),
    facts: mutable(lead.facts),
    test: lead.test,
    callBack: isoOrNull(lead.callBack),
    shared: [...lead.shared],
    related: lead.related.map((r) => ({ ...r })),
    joinedTo: lead.joinedTo,
    pinned: lead.pinned,
    turn: lead.turn && { personId: lead.turn.personId, groupId: lead.turn.groupId },
    coversFor: lead.coversFor,
    parked: lead.parked && {
      reason: lead.parked.reason,
      at: iso(lead.parked.at),
      lookAt: isoOrNull(lead.parked.lookAt),
      nextAt: isoOrNull(lead.cadences.find((r) => !r.ended)?.at ?? null),
    },
    promise: lead.promise && { ...lead.promise, at: iso(lead.promise.at) },
    others: lead.others.map(({ kind, state, dueAt }) => ({ kind, state, dueAt: iso(dueAt) })),
    stops: lead.stops.map((s) => ({ ...s, at: iso(s.at) })),
  };
}

/** A run as a lead tells of it. */
export function toRun({ id, cadenceId, name, version, state, n, kind, at, ended, pause, waits }: CadenceRun) {
  const reason = ended?.why
    ? stoppedInWords(ended.why)
    : pause
      ? pausedInWords(pause.why)
      : waits
        ? "waits for somebody’s work"
        : null;
  return {
    runId: id,
    cadenceId,
    name,
    version,
    state,
    next: ended ? null : { n: n + 1, kind, at: isoOrNull(at) },
    reason,
  };
}

/** What a touch says, in a few words. */
export function touchSaid(touch: Touch | undefined, setup: Setup): string {
  if (!touch) return "a touch no longer there";
  if (touch.kind === "email" || touch.kind === "text")
    return (
      setup.policies.templates.find((t) => t.id === touch.templateId)?.name ??
      touch.subject ??
      touch.body?.slice(0, 60) ??
      touch.kind
    );
  return touch.note?.trim() || touch.kind;
}

/** The line of a cadence on the sheet: what has been, where it stands, what comes, what stops it. */
function toLine(run: CadenceRun, lead: Lead, events: readonly LeadEvent[], setup: Setup, now: number) {
  const plan = planOfRun(setup, run);
  const said = (n: number) => touchSaid(plan?.touches[n], setup);
  const kind = (n: number) => plan?.touches[n]?.kind ?? "task";
  const been = events.flatMap((e) =>
    e.kind === "cadence-touched" && e.data.runId === run.id && e.data.did !== "set"
      ? [
          {
            n: e.data.n + 1,
            kind: e.data.kind,
            at: iso(e.at),
            said: said(e.data.n),
            state: e.data.did === "skipped" ? ("skipped" as const) : ("done" as const),
            why: e.data.reason,
          },
        ]
      : [],
  );
  const coming = outlook(run, lead, setup, now).map(({ n, at }, i) => ({
    n: n + 1,
    kind: kind(n),
    at: iso(at),
    said: said(n),
    state: i === 0 ? ("next" as const) : ("to-come" as const),
    why: "",
  }));
  const stops = (plan?.stops ?? []).map((s) =>
    s.startsWith("stage:") ? `in the stage ${s.slice("stage:".length)}` : STOPS[s as keyof typeof STOPS],
  );
  const moved = events.findLast(
    (e) => e.kind === "cadence-moved" && e.data.runId === run.id && e.data.n === run.n,
  );
  return {
    ...toRun(run),
    startedAt: iso(run.startedAt),
    until: isoOrNull(run.pause?.until ?? run.waits?.until ?? null),
    touches: [...been, ...coming],
    stops,
    reason:
      run.pause?.why === "precedence"
        ? `“${lead.cadences.find((r) => r.id === run.pause?.by)?.name ?? "another"}” goes first`
        : toRun(run).reason,
    held: moved?.kind === "cadence-moved" && !run.ended ? moved.data.reason : null,
  };
}

/** So long a cadence that has ended stays on the sheet (ms). */
const ENDED_SHOWN = 14 * 86_400_000;

/** The next step, with the cadence it is a touch of. */
function stepOf({ nextStep, cadences }: Lead) {
  const { kind, note, personId, dueAt, touch } = nextStep!;
  const cadence = touch && cadences.find((r) => r.id === touch.runId)?.name;
  return { kind, note, personId, dueAt: iso(dueAt), ...(cadence && { cadence }) };
}

/** The wire's types are not readonly; nothing is copied, since they are only sent. */
export function mutable<T>(value: T): Mutable<T> {
  return value as Mutable<T>;
}
type Mutable<T> = T extends object ? { -readonly [K in keyof T]: Mutable<T[K]> } : T;

/** Leads that may be the same person, with what tells them apart. Those that are gone are left out. */
export function toMaybe(desk: Desk, maybe: readonly MaybeSame[]): wire.Maybe[] {
  return maybe.flatMap(({ leadId, points, evidence }) => {
    const lead = desk.looker.lead(leadId);
    if (!lead || lead.joinedTo) return [];
    const ways = [...lead.phones.map(readablePhone), ...lead.emails].slice(0, 2).join(", ");
    return [
      {
        leadId,
        name: lead.name,
        about: [ways, wants(desk.setup, lead)].filter(Boolean).join(" · "),
        points,
        evidence: evidence.map((e) => ({ points: e.points, said: e.said })),
      },
    ];
  });
}

const rows = new WeakMap<Lead, { readonly setup: Setup; readonly row: wire.QueueRow }>();

/** A lead as a row of the queue shows it. The same lead under the same setup is the same row. */
export function toRow(lead: Lead, { setup, reader }: Pick<Desk, "setup" | "reader">): wire.QueueRow {
  const known = rows.get(lead);
  if (known?.setup === setup) return known.row;
  const said = reader.theirWords(lead.id);
  const row = { ...makeRow(lead, setup), said: said && { ...said, at: iso(said.at) } };
  rows.set(lead, { setup, row });
  return row;
}

function makeRow(lead: Lead, setup: Setup): Omit<wire.QueueRow, "said"> {
  const { place } = placeOf(lead);
  return {
    ...toLead(lead),
    wants: wants(setup, lead),
    product: setup.policies.products.find((p) => p.key === lead.facts.product)?.name ?? null,
    source: setup.sources.find((s) => s.id === lead.sourceId)?.name ?? "",
    holder: holder(setup, lead),
    place,
    lastTryAt: isoOrNull(lead.lastTryAt),
    rungSince: place === "rung" ? isoOrNull(rungSince(lead)) : null,
  };
}

export function toEvent(event: LeadEvent, setup: Setup): wire.Event {
  const { id, leadId, at, kind, actor, data, actId, why } = event;
  const who =
    actor.kind === "person" ? nameOf(setup, actor.id) : actor.kind === "lead" ? "the lead" : "the desk";
  return {
    id,
    leadId,
    at: iso(at),
    kind,
    actor: who,
    summary: describeEvent(event, setup),
    talk: entryOf(event).talk === true,
    data: { ...data },
    actId,
    ...(why && { why: { ...why, steps: [...why.steps] } }),
  };
}

export function toPeople(desk: Desk): wire.Person[] {
  const now = desk.clock.now();
  const names = namesApart(desk.setup.people.filter((p) => !p.left));
  return desk.setup.people.map((person) => {
    const there = presence(person, now);
    const { id, role, email, phone } = person;
    return {
      id,
      name: names.get(id) ?? person.name,
      role,
      email,
      phone,
      onDuty: there.onDuty,
      openLeads: desk.loads[id] ?? 0,
      offDutyBecause: there.onDuty ? null : there.because,
      backAt: isoOrNull(backAt(person, now)),
    };
  });
}

/** Bands that are looked through rather than worked down show so many at most. */
const LOOKED_THROUGH = 40;

/** The whole queue: every band's count and its first leads; those of *Later* only when it lies open. */
export function toQueue(
  desk: Desk,
  limit: number,
  withLater: boolean,
  theirs: string | null = null,
  only: QueueFilter = {},
): wire.Queue {
  const { setup, reader } = desk;
  const now = desk.clock.now();
  const hours = setup.policies.desk;
  const calendar = calendarAround(hours, now);
  const closes = closingAfter(calendar, now);
  const dayEnd = endOfDay(now, hours.zone);
  const mine =
    theirs === null
      ? null
      : reader
          .theirs(theirs)
          .filter((lead) => only.sourceId === undefined || lead.sourceId === only.sourceId);
  const own = mine && byBand(mine, dayEnd);
  const isPart = only.who !== undefined || only.sourceId !== undefined;
  const counts = own || isPart ? null : reader.counts(dayEnd);
  const inBand = (band: Band): { readonly items: readonly Lead[]; readonly count: number } => {
    const folded = band === "later" && !withLater;
    const most = band === "answer" || band === "rung" ? limit : Math.min(limit, LOOKED_THROUGH);
    if (own) {
      const all = own.get(band) ?? [];
      return { items: folded ? [] : all.slice(0, limit), count: all.length };
    }
    if (!counts) return reader.filtered(band, dayEnd, folded ? 0 : most, only);
    return { items: folded ? [] : reader.band(band, dayEnd, most), count: counts[band] };
  };
  return {
    now: iso(now),
    zone: hours.zone,
    desk: { open: closes !== null, until: isoOrNull(closes ?? nextOpening(calendar, now)) },
    onDuty: setup.people
      .filter((p) => p.role === "salesperson" && presence(p, now).onDuty)
      .map(({ id, name }) => ({ id, name })),
    quarantined: theirs === null ? desk.quarantine.count() : 0,
    sources: setup.sources.map(({ id, name }) => ({ id, name })),
    bands: BANDS.map((band) => {
      const { items, count } = inBand(band);
      return { band, count, items: items.map((lead) => toRow(lead, desk)) };
    }),
  };
}

/** Somebody's own leads in the bands of the queue, each in its order. */
function byBand(leads: readonly Lead[], dayEnd: number): ReadonlyMap<Band, Lead[]> {
  const bands = new Map<Band, Lead[]>();
  for (const lead of [...leads].sort((a, b) => placeOf(a).at - placeOf(b).at)) {
    const band = bandOf(placeOf(lead), dayEnd);
    if (band) bands.set(band, [...(bands.get(band) ?? []), lead]);
  }
  return bands;
}

/** Wake rules that are calm for a lead now, and until when. */
export function calmOf(lead: Lead, setup: Setup, now: number): { rule: string; until: string }[] {
  return lead.woken.flatMap(({ ruleId, at }) => {
    const rule = setup.policies.wakes.find((w) => w.id === ruleId);
    const until = at + (rule?.calmHours ?? 0) * 3_600_000;
    return rule && until > now ? [{ rule: rule.name, until: iso(until) }] : [];
  });
}

/** Everything the sheet shows of one lead; null when there is none. */
/** Cadences leads can be parked into, by name. */
export const plansOf = (setup: Setup) => forParked(setup).map((c) => ({ id: c.id, name: planOf(c).name }));

export function toSheet(desk: Desk, leadId: string): wire.Sheet | null {
  const world = desk.look(leadId);
  const { lead, setup } = world;
  if (!lead) return null;
  const own = desk.reader.events(leadId);
  const joined = joinedLeads(own);
  // What happened to a lead that was joined to this one is part of its story.
  const events = [...own, ...joined.flatMap(({ id }) => desk.reader.events(id))].sort((a, b) => a.at - b.at);
  const messages = [leadId, ...joined.map((j) => j.id)].flatMap((id) => desk.reader.messages(id));
  const states = new Map(messages.map((m) => [m.id, m]));
  const last = lastAct(own, world.now);
  const against = (channel: "text" | "email", to: string | undefined) =>
    to ? [...warnings(setup, lead, { channel, to }, world.now, world.suppressed)] : [];
  return {
    now: iso(world.now),
    lead: toRow(lead, desk),
    phonesReadable: lead.phones.map(readablePhone),
    place: setup.policies.territories.find((t) => t.key === lead.facts.territory)?.name ?? null,
    stage: stageName(setup.policies, lead.stage),
    thenTo: thenTo(desk, lead),
    completeness: mutable(completeness(lead, setup.policies)),
    maybe: toMaybe(desk, lead.maybe),
    joined,
    own: ownLines(lead, setup),
    scheduled: lead.scheduled.map((item) => ({
      id: item.id,
      at: iso(item.at),
      channel: item.channel,
      what:
        setup.policies.templates.find((t) => t.id === item.templateId)?.name ??
        item.subject ??
        item.body.slice(0, 80),
      body: item.body,
      by: item.personId && nameOf(setup, item.personId),
    })),
    warnings: { text: against("text", lead.phones[0]), email: against("email", lead.emails[0]) },
    lastWay: lead.lastWay,
    theirZone: whereabouts(setup, lead, lead.phones[0] ?? null)[0]!.zone,
    templates: setup.policies.templates.map(({ id, name, channel }) => ({ id, name, channel })),
    slowPlans: plansOf(setup),
    begins: setup.policies.cadences
      .filter((c) => whyNot(c, lead) === null)
      .map((c) => ({ id: c.id, name: planOf(c).name })),
    cadences: lead.cadences
      .filter((run) => !run.ended || run.ended.at > world.now - ENDED_SHOWN)
      .map((run) => toLine(run, lead, own, setup, world.now)),
    bells: bellsOf(lead).map((bell) => ({
      name: BELLS[kindOf(bell)].name,
      target: bell.target,
      ladder: bell.ladder,
      rung: bell.state === "rung",
      said: standsBy(bell, setup, world.now),
      rungs: bell.rungs.map((r, i) => ({ at: iso(r.at), said: RUNGS[r.act], done: i < bell.climbed })),
    })),
    calm: calmOf(lead, setup, world.now),
    thread: events.filter(isShown).map((event) => {
      const ids =
        event.kind === "message-out"
          ? [event.data.messageId]
          : event.kind === "alerted"
            ? event.data.messageIds
            : [];
      const messages = ids.flatMap((id) => {
        const m = states.get(id);
        return m
          ? [{ id, channel: m.channel, state: m.state, sentAt: isoOrNull(m.sentAt), error: m.error }]
          : [];
      });
      const undo = last && event.actId === last.actId && event.kind === last.shownOn ? last.what : null;
      return { ...shown(asMended(toEvent(event, setup), events), desk), messages, undo };
    }),
  };
}

/** A note as it says now, with what of it is a list or a link. */
function asMended(event: wire.Event, events: readonly LeadEvent[]): wire.Event {
  if (event.kind === "question-answered")
    return { ...event, data: { ...event.data, html: noteHtml(String(event.data.text)) } };
  if (event.kind !== "noted") return event;
  const text = noteText(event.id, events) ?? "";
  const mended = text !== event.data.text;
  return { ...event, data: { ...event.data, text, html: noteHtml(text), ...(mended && { mended }) } };
}

/** A message as they got it: with the link to book a call where it stood. */
function shown(event: wire.Event, desk: Desk): wire.Event {
  const { body } = event.data;
  if (event.kind !== "message-out" || typeof body !== "string" || !body.includes(BOOKING)) return event;
  const booking = desk.links.booking(event.leadId);
  return { ...event, data: { ...event.data, body: body.replaceAll(BOOKING, () => booking) } };
}

/** The leads that are joined to this one now, by its events. */
function joinedLeads(events: readonly LeadEvent[]): { id: string; name: string | null }[] {
  const joined = new Map<string, string | null>();
  for (const event of events) {
    if (event.kind === "joined") joined.set(event.data.leadId, event.data.name);
    if (event.kind === "parted") joined.delete(event.data.leadId);
  }
  return [...joined].map(([id, name]) => ({ id, name }));
}

/** The company's own fields of a lead, as people read them and as they are written. */
function ownLines(lead: Lead, { policies }: Setup): wire.Sheet["own"] {
  return policies.fields.map((field) => {
    const value = lead.facts.own[field.key];
    const known = value !== undefined && value !== "";
    return {
      key: field.key,
      name: field.name,
      type: field.type,
      choices: [...field.choices],
      required: field.required,
      said: known ? sayOwnValue(field, value, policies.company.currency) : null,
      written: known ? (typeof value === "boolean" ? (value ? "yes" : "no") : String(value)) : "",
    };
  });
}

/** Whether an event says something in the thread that nothing else there says. */
const isShown = (event: LeadEvent) => !entryOf(event).unshown?.(event.data);

/** The act that could be undone now, and the event of it that carries the button. */
function lastAct(
  events: readonly LeadEvent[],
  now: number,
): { actId: string; shownOn: string; what: string } | null {
  const last = lastUndoable(events, now);
  const shown = last?.act.find((e) => e.kind === "tried") ?? last?.act.find((e) => e.actor.kind === "person");
  return last && shown ? { actId: last.actId, shownOn: shown.kind, what: last.what } : null;
}

/** Who would be asked if the present offer were passed on. */
function thenTo(desk: Desk, lead: Lead): string | null {
  // A test of somebody’s own goes to nobody else.
  if (lead.tester) return null;
  if (!lead.handOff || lead.handOff.state === "taken") return null;
  const next = route(desk.look(lead.id), { ...lead, refused: [...lead.refused, ...lead.handOff.to] });
  if (next.kind === "offer") return next.to.map((id) => nameOf(desk.setup, id)).join(", ");
  return next.kind === "standby" ? `${nameOf(desk.setup, next.to)} on standby` : "the manager's list";
}
