import { isWaiting, type Lead } from "./lead.ts";

/** How many times of automatic messages a lead keeps: more than any ceiling asks for. */
export const AUTOMATIC_KEPT = 10;

/** Both lists, each thing once, the first list's order first. */
export function union<T>(a: readonly T[], b: readonly T[]): readonly T[] {
  // Most lists are empty, and most leads are new: nothing is copied for them.
  if (b.length === 0) return a;
  return a.length === 0 ? b : [...a, ...b.filter((x) => !a.includes(x))];
}

/** What two leads know together: this one's word first, then the other's. Whoever waits goes on waiting. */
export function together(lead: Lead, other: Lead): Partial<Lead> {
  const facts = { ...other.facts, ...definite(lead.facts) };
  return {
    name: lead.name ?? other.name,
    company: lead.company ?? other.company,
    emails: union(lead.emails, other.emails),
    phones: union(lead.phones, other.phones),
    tags: union(lead.tags, other.tags),
    shared: union(lead.shared, other.shared),
    related: [...lead.related, ...other.related],
    facts: {
      ...facts,
      answers: { ...other.facts.answers, ...lead.facts.answers },
      own: { ...other.facts.own, ...lead.facts.own },
      kinds: { ...other.facts.kinds, ...lead.facts.kinds },
      forbidden: union(lead.facts.forbidden, other.facts.forbidden),
      unread: union(lead.facts.unread, other.facts.unread),
    },
    inquiries: lead.inquiries + other.inquiries,
    tries: lead.tries + other.tries,
    reached: lead.reached || other.reached,
    ownerId: lead.ownerId ?? (lead.handOff ? null : other.ownerId),
    handOff: lead.handOff ?? (other.handOff?.state === "taken" ? other.handOff : null),
    bell: bellOfBoth(lead, other),
    nextStep: lead.nextStep ?? other.nextStep,
    replyWaiting: earliest(lead.replyWaiting, other.replyWaiting),
    callBack: earliest(lead.callBack, other.callBack),
    // Whoever asked either of them to stop is not written to by the joined one.
    stops: [...lead.stops, ...other.stops.filter((o) => !lead.stops.some((s) => s.channel === o.channel))],
    automatic: [...lead.automatic, ...other.automatic].sort((a, b) => a - b).slice(-AUTOMATIC_KEPT),
    bounces: [...lead.bounces, ...other.bounces.filter((o) => !lead.bounces.some((b) => b.to === o.to))],
    booked: lead.booked ?? other.booked,
    // Whoever somebody works on is not parked, whichever of the two it was.
    parked: other.parked || other.closed ? lead.parked : null,
    // Whoever is in a cadence already is not in it twice. Leads joined long ago were kept before there were cadences.
    cadences: [
      ...lead.cadences,
      ...(other.cadences ?? []).filter((o) => !lead.cadences.some((c) => c.cadenceId === o.cadenceId)),
    ],
    tasks: [...lead.tasks, ...(other.tasks ?? [])],
    customer: lead.customer ?? other.customer ?? null,
    handedOver: lead.handedOver ?? other.handedOver ?? null,
    estimates: [...lead.estimates, ...(other.estimates ?? [])],
    asked: [...lead.asked, ...(other.asked ?? [])],
    promise: lead.promise ?? other.promise,
    lastTryAt: latest(lead.lastTryAt, other.lastTryAt),
    pinned: lead.pinned ?? other.pinned,
    lastWay: lead.lastWay ?? other.lastWay,
    creditId: lead.creditId ?? other.creditId,
    lastOwner: lead.lastOwner ?? other.lastOwner,
  };
}

/**
 * The bell of the one that waits, unless either of them was answered since that one came in: the same person was tried,
 * by whichever name we knew them then.
 */
function bellOfBoth(lead: Lead, other: Lead): Lead["bell"] {
  // Tried as the other since this one's bell began, and come back after that: it is the later bell that waits.
  const isLater = isWaiting(lead) && (other.lastTryAt ?? 0) > (lead.bell?.startedAt ?? 0);
  const bell =
    isWaiting(other) && (!isWaiting(lead) || isLater)
      ? { ...other.bell!, n: (lead.bell?.n ?? 0) + 1 }
      : lead.bell;
  const answeredAt = latest(answeredLast(lead), answeredLast(other));
  if (!bell || answeredAt === null || answeredAt <= bell.startedAt) return bell;
  return bell.state === "waiting" || bell.state === "rung"
    ? { ...bell, state: "answered", answeredAt }
    : bell;
}

/** When somebody last tried a lead whose bell was answered: its later tries are known by their time alone. */
function answeredLast({ bell, lastTryAt }: Lead): number | null {
  return bell?.answeredAt ? latest(bell.answeredAt, lastTryAt) : null;
}

function latest(a: number | null, b: number | null): number | null {
  return a === null || b === null ? (a ?? b) : Math.max(a, b);
}

function earliest(a: number | null, b: number | null): number | null {
  return a === null || b === null ? (a ?? b) : Math.min(a, b);
}

/** The parts of an object that say something. */
function definite<T extends object>(object: T): Partial<T> {
  return Object.fromEntries(Object.entries(object).filter(([, v]) => v !== null)) as Partial<T>;
}
