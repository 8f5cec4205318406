import type { LeadEvent } from "../lead/events.ts";
import { entryOf } from "../lead/events.ts";
import { foldAll } from "../lead/fold.ts";
import { restorable } from "../lead/standing.ts";
import { type Refused, refuse } from "../refusal.ts";
import { takeBack } from "./deals.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { noSuchLead } from "./refusals.ts";
import { tell } from "./tell.ts";

/** Whether the message of this event has left the house, or may have. */
const hasLeft = (event: LeadEvent, now: number) =>
  event.kind === "message-out" && (event.data.leavesAt ?? 0) <= now;

/** An act that may be taken back, and what the desk did because of it. */
export interface Undoable {
  readonly actId: string;
  readonly act: readonly LeadEvent[];
  /** What came of it by itself, each an act: a cadence it began has set its first tasks. */
  readonly came: readonly string[];
  /** In words. */
  readonly what: string;
}

/** The cadence an event is of. */
const runOf = (event: LeadEvent): string | null => ("runId" in event.data ? event.data.runId : null);

/**
 * What the desk did because of an act, act by act: where a cadence it began went on by itself, and nothing else happened in it. Without
 * this, whoever set off a cadence that begins at once could take nothing back a second later.
 */
function cameOf(history: readonly LeadEvent[], act: readonly LeadEvent[]): string[] {
  const begun = new Set(act.flatMap((e) => (e.kind === "cadence-started" ? [e.data.runId] : [])));
  if (begun.size === 0) return [];
  const later = new Map<string, LeadEvent[]>();
  for (const e of history)
    if (e.seq > act.at(-1)!.seq) later.set(e.actId, [...(later.get(e.actId) ?? []), e]);
  return [...later].flatMap(([actId, events]) => {
    const runs = events.flatMap((e) => runOf(e) ?? []);
    const byItself = events.every((e) => e.actor.kind !== "person");
    return byItself && runs.length > 0 && runs.every((r) => begun.has(r)) ? [actId] : [];
  });
}

/** What of an act could be taken back, in words; null when nothing can, or some of it has left the house by `now`. */
function undoableIn(events: readonly LeadEvent[], now: number): string | null {
  if (events.some((e) => entryOf(e).final || hasLeft(e, now))) return null;
  if (events.some((e) => e.kind === "message-out")) return "the message";
  const first = events.find((e) => e.actor.kind === "person" && entryOf(e).undone);
  const named = events.find((e) => e.kind === "tried") ?? first;
  return named ? (entryOf(named).undone ?? null) : null;
}

/**
 * Whether an act of a lead can be taken back at `now`: something of it may be, and nothing has happened since that stands on it. Never
 * throws; `history` is the lead's, whole and in order.
 */
export function undoable(history: readonly LeadEvent[], actId: string, now: number): Undoable | Refused {
  const act = history.filter((e) => e.actId === actId);
  const came = act.length > 0 ? cameOf(history, act) : [];
  const what = undoableIn(act, now);
  if (!what || history.some((e) => came.includes(e.actId) && hasLeft(e, now)))
    return refuse(
      "cant-be-undone",
      409,
      "Can't be undone",
      "Something of this has already left the house, so it can't be taken back.",
    );
  const standsOn = (e: LeadEvent) => !entryOf(e).passedOver && !came.includes(e.actId);
  if (history.some((e) => e.seq > act.at(-1)!.seq && standsOn(e)))
    return refuse(
      "too-late-to-undo",
      409,
      "Too late to undo",
      "Something else has happened to this lead since. Change it by hand instead.",
    );
  return { actId, act, came, what };
}

/** The act that could be taken back at `now`: the last thing that happened to a lead, or what that came of. Null when there is none. */
export function lastUndoable(history: readonly LeadEvent[], now: number): Undoable | null {
  const last = history.findLast((e) => !entryOf(e).passedOver);
  if (!last) return null;
  const own = undoable(history, last.actId, now);
  if ("actId" in own) return own;
  const runs = new Set(history.filter((e) => e.actId === last.actId).flatMap((e) => runOf(e) ?? []));
  const began = history.find((e) => e.kind === "cadence-started" && runs.has(e.data.runId));
  const before = began ? undoable(history, began.actId, now) : own;
  return "actId" in before ? before : null;
}

/**
 * Take back an act of a person: the lead is as before it, and everybody told hears of it. Only the last
 * thing that happened can be undone; what came after it would otherwise stand on nothing.
 */
export function undo(world: World, by: string, actId: string, history: readonly LeadEvent[]): Decided {
  if (!world.lead) return noSuchLead();
  const found = undoable(history, actId, world.now);
  if (!("actId" in found)) return found;
  const { act, came, what } = found;
  const whole = [...act, ...history.filter((e) => came.includes(e.actId))];
  const prior = foldAll(history.filter((e) => e.seq < act[0]!.seq));
  if (!prior)
    return refuse("cant-be-undone", 409, "Can't be undone", "The lead began with this; close it instead.");
  const told = whole.flatMap((e) => (e.kind === "alerted" && e.data.personId ? [e.data.personId] : []));
  const draft = new Draft(world, { kind: "person", id: by });
  for (const event of whole) if (event.kind === "message-out") draft.withdraw(event.data.messageId);
  const tags = whole.some((e) => e.kind === "tagged") && { tags: prior.tags };
  draft.add("undone", { actId, what, restore: restorable(prior), ...tags, ...(came.length > 0 && { came }) });
  const kept = takeBack(draft.book, world, actId, what);
  if (kept) return kept;
  tell(draft, [...new Set(told)], "gone");
  return draft.done();
}
