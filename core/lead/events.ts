import type { EventHead, EventKindOf } from "./event.ts";
import { BELL_EVENTS } from "./events/bells.ts";
import { CADENCES } from "./events/cadences.ts";
import { ENDS } from "./events/ends.ts";
import { HANDS } from "./events/hands.ts";
import { INQUIRIES } from "./events/inquiries.ts";
import { MESSAGES } from "./events/messages.ts";
import { PEOPLE } from "./events/people.ts";
import { PRIVACY } from "./events/privacy.ts";
import { QUALIFYING } from "./events/qualifying.ts";
import { TRIES } from "./events/tries.ts";

/** Everything that can happen to a lead, each kind once: its data, its fold, its words and its traits. */
export const EVENTS = {
  ...INQUIRIES,
  ...PEOPLE,
  ...BELL_EVENTS,
  ...HANDS,
  ...TRIES,
  ...MESSAGES,
  ...CADENCES,
  ...QUALIFYING,
  ...ENDS,
  ...PRIVACY,
};

export type EventKind = keyof typeof EVENTS;

/** What an event of each kind carries. */
export type EventData = {
  readonly [K in EventKind]: (typeof EVENTS)[K] extends EventKindOf<infer D> ? D : never;
};

/** One thing that happened to a lead. */
export type LeadEvent = {
  [K in EventKind]: EventHead & { readonly kind: K; readonly data: EventData[K] };
}[EventKind];

/** The entry of an event's kind, which takes the event's own data: what the two types say together, said once. */
export const entryOf = ({ kind }: Pick<LeadEvent, "kind">): EventKindOf<EventData[EventKind]> =>
  EVENTS[kind] as EventKindOf<EventData[EventKind]>;

/** The acts an event takes back: what a person did, and what came of it by itself. */
export const takenBackBy = (event: LeadEvent): readonly string[] =>
  event.kind === "undone" ? [event.data.actId, ...(event.data.came ?? [])] : [];

/** All kinds with a trait, for asking the database. */
export function kindsWith(
  trait: "untoldToRouting" | "passedOver" | "follows" | "final" | "theirs" | "wrote",
): readonly EventKind[] {
  const all = Object.entries(EVENTS) as [EventKind, EventKindOf<never>][];
  return all.filter(([, kind]) => kind[trait]).map(([key]) => key);
}

/** Whether it came about without anybody of ours or theirs having done anything: a lead with nothing else was never worked on. */
export function isAutomatic({ kind, actor }: Pick<LeadEvent, "kind" | "actor">): boolean {
  return actor.kind === "desk" || kind === "inquiry";
}
