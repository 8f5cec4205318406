import { tidyName } from "../contact/name.ts";
import type { BellKind } from "../policy/bells.ts";
import { blank, STAGE } from "./blank.ts";
import type { EventData, EventKind, LeadEvent } from "./events.ts";
import { type Bell, isWaiting, type Lead, type OtherBell } from "./lead.ts";
import { reasonHolds } from "./reasons.ts";
import { AUTOMATIC_KEPT, together, union } from "./together.ts";

/** A try so shortly before a booked call is that call (ms). */
const EARLY = 15 * 60_000;

/** So many numbers and addresses that could not be read a lead keeps: the latest. */
const UNREAD_KEPT = 20;

/** Why a lead of a list that is only kept lies parked. */
const KEPT = "Kept from a list";

type Change = Partial<Lead>;
type Folder<K extends EventKind> = (lead: Lead, data: EventData[K], event: LeadEvent) => Change;

const climb = (bell: Bell | null, change: Partial<Bell> = {}): Bell | null =>
  bell && { ...bell, ...change, climbed: bell.climbed + 1 };

/** A test is one as long as nothing real has come to it, and one person's as long as it is all theirs. */
const stillTest = (lead: Lead, test: boolean, tester: string | null) => ({
  test: lead.test && test,
  tester: lead.test && test && lead.tester === tester ? tester : null,
});

const folders: { [K in EventKind]: Folder<K> } = {
  inquiry: (lead, { facts, sourceId, test, tester, kept }, { at }) => ({
    parked:
      kept && lead.seq === 0
        ? { reason: KEPT, at, planId: null, lookAt: null, sent: 0, nextAt: null }
        : lead.parked,
    name: lead.name ?? (facts.name ? tidyName(facts.name) : null),
    emails: union(lead.emails, facts.emails),
    phones: union(lead.phones, facts.phones),
    company: lead.company ?? facts.company,
    tags: union(lead.tags, facts.tags),
    sourceId: lead.seq === 0 ? sourceId : lead.sourceId,
    facts: {
      product: facts.product ?? lead.facts.product,
      value: facts.value ?? lead.facts.value,
      message: facts.message ?? lead.facts.message,
      postalCode: facts.postalCode ?? lead.facts.postalCode,
      territory: facts.territory ?? lead.facts.territory,
      zone: facts.zone ?? lead.facts.zone,
      language: facts.language ?? lead.facts.language,
      answers: { ...lead.facts.answers, ...facts.answers },
      own: facts.own ? { ...lead.facts.own, ...facts.own } : lead.facts.own,
      address: facts.address ?? lead.facts.address,
      preferred: facts.preferred ?? lead.facts.preferred,
      forbidden: facts.forbidden ?? lead.facts.forbidden,
      kinds: facts.kinds ? { ...lead.facts.kinds, ...facts.kinds } : lead.facts.kinds,
      detail: facts.detail ?? lead.facts.detail,
      unread: facts.unread ? union(lead.facts.unread, facts.unread).slice(-UNREAD_KEPT) : lead.facts.unread,
    },
    ...(lead.seq === 0
      ? { test: test === true, tester: tester ?? null }
      : stillTest(lead, test === true, tester ?? null)),
    inquiries: lead.inquiries + 1,
    createdAt: lead.seq === 0 ? at : lead.createdAt,
    // A new inquiry wipes the slate: whoever passed before may be asked again.
    refused: [],
  }),
  "bell-started": (lead, { target, ladder, terms, dueAt, rungs }, { at }) => ({
    bell: {
      n: (lead.bell?.n ?? 0) + 1,
      target,
      ladder,
      terms,
      askedFor: null,
      state: "waiting",
      startedAt: at,
      dueAt,
      answeredAt: null,
      excusedAt: null,
      rangAt: null,
      rungs,
      climbed: 0,
    },
  }),
  watched: (lead, { bells }) => ({
    others: [...lead.others.filter((b) => !bells.some((n) => n.kind === b.kind)), ...bells],
  }),
  "bell-moved": (lead, { bell, dueAt, rungs, askedFor, anew }) =>
    changeBell(lead, bell, () => ({ dueAt, rungs, ...anew, ...(askedFor && { askedFor }) })),
  excused: (lead, { bell }, { at }) => ({
    ...changeBell(lead, bell, () => ({ state: "excused", ...(bell === "inquiry" && { excusedAt: at }) })),
    listed: lead.ownerId ? null : lead.listed,
  }),
  climbed: (lead, { bell, act }, { at }) => ({
    ...changeBell(lead, bell, ({ climbed }) => ({
      climbed: climbed + 1,
      ...(act === "ring" && { state: "rung", rangAt: at }),
    })),
  }),
  promised: (_lead, { promise }) => ({ promise }),
  parked: (lead, { reason, planId, lookAt, nextAt, backTo }, { at }) => ({
    parked: { reason, at, planId, lookAt, sent: 0, nextAt, ...(backTo && { backTo }) },
    lastOwner: lead.ownerId ? { personId: lead.ownerId, at } : lead.lastOwner,
    ownerId: null,
    coversFor: null,
    handOff: null,
    nextStep: null,
    listed: null,
    promise: null,
    bell: isWaiting(lead) ? lead.bell && { ...lead.bell, state: "excused", excusedAt: at } : lead.bell,
  }),
  "slow-step": (lead, { nextAt }) => ({
    parked: lead.parked && { ...lead.parked, sent: lead.parked.sent + 1, nextAt },
  }),
  visited: () => ({}),
  woken: (lead, { ruleId, does }, { at }) => ({
    ...(does !== "tell" && { parked: null }),
    ...(ruleId && { woken: [...lead.woken.filter((w) => w.ruleId !== ruleId), { ruleId, at }] }),
  }),
  offered: (_lead, { handOffId, to, until, open, turn, askedAt }) => ({
    parked: null,
    handOff: { id: handOffId, state: open ? "open" : "offered", to, until, ...(askedAt && { askedAt }) },
    turn: turn ? { groupId: turn.groupId, personId: turn.personId, gains: turn.gains } : null,
    coversFor: null,
    ownerId: null,
    listed: null,
  }),
  taken: (lead, { personId }, { id, at }) => ({
    parked: null,
    ownerId: personId,
    // Who takes it first has the credit, until somebody agrees otherwise.
    creditId: lead.creditId ?? personId,
    lastOwner: { personId, at },
    coversFor: null,
    handOff: { id: lead.handOff?.id ?? id, state: "taken", to: [personId], until: null },
    listed: null,
    stage: lead.stage === STAGE.fresh ? STAGE.working : lead.stage,
  }),
  passed: (lead, { personId }) => ({
    ownerId: lead.ownerId === personId ? null : lead.ownerId,
    listed: null,
    handOff: withoutPerson(lead, personId),
    turn: lead.turn?.personId === personId ? null : lead.turn,
    coversFor: null,
    refused: union(lead.refused, [personId]),
  }),
  lapsed: (lead, { to }) => ({ handOff: null, turn: null, refused: union(lead.refused, to) }),
  "asked-anew": () => ({ refused: [] }),
  credited: (_lead, { to }) => ({ creditId: to }),
  "turn-credited": () => ({ turn: null }),
  given: (lead, { to, coversFor, standby, steps }, { id, at }) => ({
    parked: null,
    nextStep: lead.nextStep && (steps === "stay" ? lead.nextStep : { ...lead.nextStep, personId: to }),
    ownerId: to,
    // Whoever only stands in has no claim to it.
    creditId: lead.creditId ?? (coversFor || standby ? null : to),
    lastOwner: { personId: to, at },
    coversFor: coversFor ?? null,
    handOff: { id, state: "taken", to: [to], until: null },
    listed: null,
    stage: lead.stage === STAGE.fresh ? STAGE.working : lead.stage,
  }),
  listed: (lead, { reason, retryAt }, { at }) => ({
    listed: { reason, at, retryAt },
    handOff: lead.handOff?.state === "taken" ? lead.handOff : null,
  }),
  nudged: (lead) => ({ bell: climb(lead.bell) }),
  rang: (lead, _data, { at }) => ({ bell: climb(lead.bell, { state: "rung", rangAt: at }) }),
  "stood-by": (lead) => ({ bell: climb(lead.bell) }),
  tried: (lead, { reached, personId, uncounted }, { at }) => ({
    lastTryAt: at,
    engaged: lead.engaged?.personId === personId ? null : lead.engaged,
    promise: null,
    lastOwner: lead.ownerId === personId ? { personId, at } : lead.lastOwner,
    // The call they booked has been made, or is given up by a try at its time.
    booked: lead.booked && at < lead.booked.at - EARLY ? lead.booked : null,
    tries: lead.tries + 1,
    reached: lead.reached || reached,
    fruitless: reached ? 0 : lead.fruitless + 1,
    replyWaiting: null,
    callBack: null,
    listed: lead.ownerId ? null : lead.listed,
    bell: uncounted ? lead.bell : answer(lead.bell, at),
    stage: reached
      ? earlier(lead.stage)
        ? STAGE.talking
        : lead.stage
      : lead.stage === STAGE.fresh
        ? STAGE.working
        : lead.stage,
  }),
  // Whoever plans a step works on it again.
  "next-step": (lead, { step }) => ({ nextStep: step, ...(step && lead.parked && { parked: null }) }),
  "message-out": (lead, { auto, scheduledId }, { at }) => ({
    ...(auto && { automatic: [...lead.automatic, at].slice(-AUTOMATIC_KEPT) }),
    ...(scheduledId && { scheduled: lead.scheduled.filter((s) => s.id !== scheduledId) }),
  }),
  scheduled: (lead, { item }) => ({ scheduled: [...lead.scheduled.filter((s) => s.id !== item.id), item] }),
  unscheduled: (lead, { ids }) => ({ scheduled: lead.scheduled.filter((s) => !ids.includes(s.id)) }),
  "held-back": (lead, { scheduledId }) =>
    scheduledId ? { scheduled: lead.scheduled.filter((s) => s.id !== scheduledId) } : {},
  stopped: (lead, { channel, how, said }, { at }) => ({
    stops: [...lead.stops.filter((s) => s.channel !== channel), { channel, at, how, said }],
  }),
  "stop-lifted": (lead, { channel }) => ({ stops: lead.stops.filter((s) => s.channel !== channel) }),
  clicked: () => ({}),
  // They chose the time themselves: nobody need chase them before it.
  booked: (lead, { booked }, { at }) => ({
    booked,
    replyWaiting: null,
    callBack: null,
    listed: null,
    bell: answer(lead.bell, at),
  }),
  "booking-cancelled": () => ({ booked: null }),
  pinned: (_lead, { text }) => ({ pinned: text }),
  "message-in": (lead, { robot, word, channel }, { at }) =>
    robot || word
      ? {}
      : { replyWaiting: lead.replyWaiting ?? at, reached: true, fruitless: 0, lastWay: channel },
  "called-in": (lead, { result }, { at }) =>
    result === "answered"
      ? {
          reached: true,
          promise: null,
          replyWaiting: null,
          callBack: null,
          bell: answer(lead.bell, at),
          stage: earlier(lead.stage) ? STAGE.talking : lead.stage,
        }
      : { replyWaiting: lead.replyWaiting ?? at, callBack: lead.callBack ?? at },
  "called-out": () => ({}),
  engaged: (lead, { personId, how, until }, { at }) => ({
    engaged: {
      personId,
      how,
      since: lead.engaged?.personId === personId && lead.engaged.how === how ? lead.engaged.since : at,
      until,
    },
  }),
  "let-be": (lead, { personId }) => (lead.engaged?.personId === personId ? { engaged: null } : {}),
  "maybe-same": (lead, { of }) => ({
    maybe: [...lead.maybe.filter((m) => !of.some((o) => o.leadId === m.leadId)), ...of],
  }),
  "not-same": (lead, { leadId }) => ({
    maybe: lead.maybe.filter((m) => m.leadId !== leadId),
    notSame: union(lead.notSame, [leadId]),
  }),
  joined: (lead, { leadId, lead: other, messages }) => ({
    ...together(lead, other),
    ...(messages && { scheduled: [...lead.scheduled, ...other.scheduled] }),
    ...stillTest(lead, other.test, other.tester),
    maybe: lead.maybe.filter((m) => m.leadId !== leadId),
  }),
  "joined-to": (_lead, { leadId }, { at }) => ({
    joinedTo: leadId,
    turn: null,
    coversFor: null,
    closed: { reason: "Joined to another lead", at },
    engaged: null,
    handOff: null,
    ownerId: null,
    bell: null,
    parked: null,
    promise: null,
    nextStep: null,
    listed: null,
    replyWaiting: null,
    callBack: null,
    scheduled: [],
    booked: null,
    maybe: [],
  }),
  parted: (lead, { leadId, known, own }) => ({
    ...known,
    ...own,
    notSame: union(lead.notSame, [leadId]),
  }),
  "parted-from": (lead, { leadId, restore }) => ({
    ...restore,
    joinedTo: null,
    notSame: union(lead.notSame, [leadId]),
  }),
  shared: (lead, { value, shared }) => ({
    shared: shared ? union(lead.shared, [value]) : lead.shared.filter((v) => v !== value),
  }),
  related: (_lead, { related }) => ({ related }),
  learned: (lead, { facts: { facts, ...rest } }) => ({
    ...rest,
    ...(facts && { facts: { ...lead.facts, ...facts } }),
  }),
  alerted: () => ({}),
  noted: () => ({}),
  closed: (lead, { reason }, { at }) => ({
    closed: { reason, at },
    engaged: null,
    handOff: lead.handOff?.state === "taken" ? lead.handOff : null,
    parked: null,
    promise: null,
    nextStep: null,
    listed: null,
    replyWaiting: null,
    callBack: null,
    scheduled: [],
  }),
  reopened: () => ({ closed: null }),
  undone: (_lead, { restore }) => ({ ...restore }),
};

/** Change the bell of that kind, where it runs. */
function changeBell(
  lead: Lead,
  kind: BellKind,
  change: (bell: Bell | OtherBell) => Partial<Bell & OtherBell>,
): Change {
  if (kind === "inquiry") return { bell: lead.bell && ({ ...lead.bell, ...change(lead.bell) } as Bell) };
  return {
    others: lead.others.map((b) => (b.kind === kind ? ({ ...b, ...change(b) } as OtherBell) : b)),
  };
}

function answer(bell: Bell | null, at: number): Bell | null {
  return bell && (bell.state === "waiting" || bell.state === "rung")
    ? { ...bell, state: "answered", answeredAt: at }
    : bell;
}

function earlier(stage: string): boolean {
  return stage === STAGE.fresh || stage === STAGE.working;
}

/** An open call goes on for the others; an offer to one is over. */
function withoutPerson(lead: Lead, personId: string): Lead["handOff"] {
  if (lead.handOff?.state !== "open") return null;
  const to = lead.handOff.to.filter((id) => id !== personId);
  return to.length > 0 ? { ...lead.handOff, to } : null;
}

/**
 * The lead after one more event; `null` before its first.
 * @throws when the event is not the lead's next one: then a row and its events have come apart.
 */
export function fold(lead: Lead | null, event: LeadEvent): Lead {
  const before = lead ?? blank(event);
  if (event.seq !== before.seq + 1)
    throw new Error(`Lead ${event.leadId}: event ${event.seq} cannot follow ${before.seq}.`);
  return foldNext(before, event);
}

/** Like {@link fold}, where events that do not matter to the reader have been left out in between. */
export function foldNext(lead: Lead | null, event: LeadEvent): Lead {
  const before = lead ?? blank(event);
  const change = (folders[event.kind] as Folder<EventKind>)(
    before,
    event.data as EventData[EventKind],
    event,
  );
  const after: Lead = { ...before, ...change, seq: event.seq, lastActivityAt: event.at };
  return settle(before, after, event.at);
}

/** What follows from any change: since when somebody has it, and which bells have lost their reason. */
function settle(before: Lead, after: Lead, at: number): Lead {
  const changedHands = before.ownerId !== after.ownerId && before.ownedSince === after.ownedSince;
  const settled = changedHands ? { ...after, ownedSince: after.ownerId ? at : null } : after;
  if (settled.others.length === 0) return settled;
  const others = settled.others.filter((bell) => reasonHolds(bell, settled));
  return others.length === settled.others.length ? settled : { ...settled, others };
}

/** The lead as all its events make it; null for none. */
export function foldAll(events: Iterable<LeadEvent>): Lead | null {
  let lead: Lead | null = null;
  for (const event of events) lead = fold(lead, event);
  return lead;
}
