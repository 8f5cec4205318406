import { STAGE } from "../vocabulary.ts";
import type { EventHead } from "./event.ts";
import type { Lead } from "./lead.ts";

/**
 * What a lead is when nothing is known of it. Its parts are shared by all that begin with it: nothing of a lead is ever
 * changed in place.
 */
export const NOBODY: Lead = {
  id: "",
  seq: 0,
  name: null,
  emails: [],
  phones: [],
  company: null,
  stage: STAGE.fresh,
  sourceId: "",
  tags: [],
  facts: {
    product: null,
    value: null,
    message: null,
    postalCode: null,
    territory: null,
    zone: null,
    language: "en",
    answers: {},
    own: {},
    address: null,
    preferred: null,
    forbidden: [],
    unread: [],
    kinds: {},
    detail: null,
  },
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
  engaged: null,
  promise: null,
  parked: null,
  woken: [],
  tries: 0,
  reached: false,
  fruitless: 0,
  nextStep: null,
  listed: null,
  replyWaiting: null,
  callBack: null,
  inquiries: 0,
  maybe: [],
  notSame: [],
  joinedTo: null,
  shared: [],
  related: [],
  stops: [],
  booked: null,
  scheduled: [],
  automatic: [],
  bounces: [],
  pinned: null,
  lastWay: null,
  test: false,
  tester: null,
  createdAt: 0,
  lastActivityAt: 0,
  closed: null,
};

/** A lead before its first event. */
export function blank({ leadId, at }: EventHead): Lead {
  return { ...NOBODY, id: leadId, createdAt: at, lastActivityAt: at };
}
