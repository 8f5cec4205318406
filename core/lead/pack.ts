import type { Lead } from "./lead.ts";

/** What a lead is when nothing is known of it: the parts that need not be written down. */
const FACTS: Omit<Lead["facts"], "language"> = {
  product: null,
  value: null,
  message: null,
  postalCode: null,
  territory: null,
  zone: null,
  answers: {},
  own: {},
  address: null,
  preferred: null,
  forbidden: [],
  kinds: {},
  detail: null,
};
const NOTHING: Partial<Lead> = {
  name: null,
  emails: [],
  phones: [],
  company: null,
  tags: [],
  ownerId: null,
  creditId: null,
  handOff: null,
  turn: null,
  lastOwner: null,
  coversFor: null,
  refused: [],
  bell: null,
  others: [],
  ownedSince: null,
  lastTryAt: null,
  promise: null,
  parked: null,
  woken: [],
  reached: false,
  fruitless: 0,
  nextStep: null,
  listed: null,
  replyWaiting: null,
  callBack: null,
  maybe: [],
  notSame: [],
  joinedTo: null,
  shared: [],
  related: [],
  stops: [],
  booked: null,
  scheduled: [],
  automatic: [],
  pinned: null,
  lastWay: null,
  test: false,
  closed: null,
};

function says(value: unknown): boolean {
  if (value === null || value === false) return false;
  if (typeof value !== "object") return true;
  if (Array.isArray(value)) return value.length > 0;
  for (const _ in value) return true;
  return false;
}

function spare<T extends object>(object: T): Partial<T> {
  const out: Partial<T> = {};
  for (const key in object) if (says(object[key])) out[key] = object[key];
  return out;
}

/** A lead as text, without what it does not say: a third as long, and as much faster to read. */
export function packLead(lead: Lead): string {
  return JSON.stringify({ ...spare(lead), facts: spare(lead.facts) });
}

/** The lead that a text of {@link packLead} says. */
export function unpackLead(text: string): Lead {
  const said = JSON.parse(text) as Lead;
  return { ...NOTHING, ...said, facts: { ...FACTS, ...said.facts } };
}
