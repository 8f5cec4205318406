import type { LeadEvent } from "../lead/events.ts";
import { entryOf } from "../lead/events.ts";
import { foldAll } from "../lead/fold.ts";
import { restorable } from "../lead/standing.ts";
import { refuse } from "../refusal.ts";
import { takeBack } from "./deals.ts";
import { type Decided, Draft, type World } from "./plan.ts";
import { noSuchLead } from "./refusals.ts";
import { tell } from "./tell.ts";

/** Whether the message of this event has left the house, or may have. */
const hasLeft = (event: LeadEvent, now: number) =>
  event.kind === "message-out" && (event.data.leavesAt ?? 0) <= now;

/** What could be undone of an act at `now`, in words; null when nothing can. */
export function undoableAct(act: readonly LeadEvent[], now: number): string | null {
  if (act.some((e) => entryOf(e).final || hasLeft(e, now))) return null;
  if (act.some((e) => e.kind === "message-out")) return "the message";
  const first = act.find((e) => e.actor.kind === "person" && entryOf(e).undone);
  const named = act.find((e) => e.kind === "tried") ?? first;
  return named ? (entryOf(named).undone ?? null) : null;
}

/**
 * Take back an act of a person: the lead is as before it, and everybody told hears of it. Only the last
 * thing that happened can be undone; what came after it would otherwise stand on nothing.
 */
export function undo(world: World, by: string, actId: string, history: readonly LeadEvent[]): Decided {
  if (!world.lead) return noSuchLead();
  const act = history.filter((e) => e.actId === actId);
  const what = undoableAct(act, world.now);
  if (!what)
    return refuse(
      "cant-be-undone",
      409,
      "Can't be undone",
      "Something of this has already left the house, so it can't be taken back.",
    );
  const later = history.find((e) => e.seq > act.at(-1)!.seq && !entryOf(e).passedOver);
  if (later)
    return refuse(
      "too-late-to-undo",
      409,
      "Too late to undo",
      "Something else has happened to this lead since. Change it by hand instead.",
    );
  const prior = foldAll(history.filter((e) => e.seq < act[0]!.seq));
  if (!prior)
    return refuse("cant-be-undone", 409, "Can't be undone", "The lead began with this; close it instead.");
  const told = act.flatMap((e) => (e.kind === "alerted" && e.data.personId ? [e.data.personId] : []));
  const draft = new Draft(world, { kind: "person", id: by });
  for (const event of act) if (event.kind === "message-out") draft.withdraw(event.data.messageId);
  const tags = act.some((e) => e.kind === "tagged") && { tags: prior.tags };
  draft.add("undone", { actId, what, restore: restorable(prior), ...tags });
  const kept = takeBack(draft.book, world, actId, what);
  if (kept) return kept;
  tell(draft, [...new Set(told)], "gone");
  return draft.done();
}
