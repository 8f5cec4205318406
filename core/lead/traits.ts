import type { EventKind, LeadEvent } from "./events.ts";

/** What is true of every event of a kind. Whoever must know asks here, and keeps no list of kinds of its own. */
export interface Traits {
  /** It may follow an act without standing in the way of taking that back, and is no act itself. */
  readonly passedOver?: true;
  /** An act with it can't be taken back, whatever else is in it. */
  readonly final?: true;
  /** What taking it back is called, where a person may. */
  readonly undone?: string;
  /** It tells routing nothing: who got what, and how, is known without it. */
  readonly untoldToRouting?: true;
  /** It only follows from another event: where a course of things is told in short, that one says it. */
  readonly follows?: true;
  /** It is not shown in the thread: it would only repeat what stands there. */
  readonly unshown?: true;
}

/** Every kind; one that is forgotten is no kind. */
const TRAITS: { readonly [K in EventKind]: Traits } = {
  inquiry: { final: true },
  "called-in": {},
  "called-out": { untoldToRouting: true },
  engaged: { passedOver: true, untoldToRouting: true, unshown: true },
  "let-be": { passedOver: true, untoldToRouting: true, unshown: true },
  "maybe-same": {},
  "not-same": {},
  joined: {},
  "joined-to": {},
  parted: {},
  "parted-from": {},
  shared: {},
  related: {},
  learned: {},
  "bell-started": { follows: true, untoldToRouting: true },
  watched: { follows: true, unshown: true },
  "bell-moved": {},
  excused: { undone: "the excuse" },
  climbed: {},
  promised: { undone: "the promise" },
  parked: { undone: "parking it" },
  "slow-step": { unshown: true },
  visited: { passedOver: true },
  woken: {},
  offered: { final: true },
  taken: { undone: "taking it" },
  passed: {},
  lapsed: {},
  given: { undone: "giving it away" },
  "asked-anew": {},
  credited: {},
  "turn-credited": {},
  listed: {},
  nudged: { untoldToRouting: true },
  rang: { untoldToRouting: true },
  "stood-by": {},
  tried: { undone: "the try" },
  "next-step": { undone: "the next step", untoldToRouting: true },
  "message-out": { follows: true, untoldToRouting: true },
  scheduled: { follows: true, undone: "writing for later", untoldToRouting: true },
  unscheduled: { undone: "taking the message back", untoldToRouting: true },
  "held-back": { untoldToRouting: true },
  stopped: {},
  "stop-lifted": {},
  clicked: { passedOver: true, untoldToRouting: true },
  booked: {},
  "booking-cancelled": {},
  pinned: { passedOver: true, untoldToRouting: true },
  "message-in": {},
  alerted: { follows: true, passedOver: true, untoldToRouting: true },
  noted: { passedOver: true, untoldToRouting: true },
  closed: { undone: "closing it" },
  reopened: {},
  undone: { final: true },
};

/** What is true of events of a kind. */
export const traitsOf = (kind: EventKind): Traits => TRAITS[kind];

/** All kinds with a trait, for asking the database. */
export function kindsWith(trait: keyof Traits): readonly EventKind[] {
  return (Object.keys(TRAITS) as EventKind[]).filter((kind) => TRAITS[kind][trait] !== undefined);
}

/** Whether it came about without anybody of ours or theirs having done anything: a lead with nothing else was never worked on. */
export function isAutomatic({ kind, actor }: Pick<LeadEvent, "kind" | "actor">): boolean {
  return actor.kind === "desk" || kind === "inquiry";
}
