import { bellKey, bellsOf } from "./bells.ts";
import type { CadenceRun, Lead } from "./lead.ts";

/** What must happen to a lead at a moment, unless something happens before. Its id is its identity. */
export interface Timer {
  readonly id: string;
  readonly leadId: string;
  readonly kind: "lapse" | "rung" | "route" | "send" | "touch" | "look" | "wipe";
  readonly dueAt: number;
}

/** How long a test lead stays when nobody wipes it before (ms). */
export const TEST_LASTS = 86_400_000;

/**
 * The timers a lead wants, derived from its state alone. Nothing else sets or clears a timer, so none can
 * be forgotten and none outlives its reason.
 */
export function timersOf(lead: Lead): readonly Timer[] {
  const timers: Timer[] = [];
  const want = (kind: Timer["kind"], key: string, dueAt: number) =>
    timers.push({ id: `${lead.id}:${kind}:${key}`, leadId: lead.id, kind, dueAt });
  // What a test was joined to goes with it.
  if (lead.test && !lead.joinedTo) want("wipe", "test", lead.createdAt + TEST_LASTS);
  if (lead.closed) return timers;
  const { handOff, listed, scheduled, parked, engaged, cadences } = lead;
  // While somebody talks or writes to them nobody is nudged, nothing rings, and nothing goes on to the next.
  const afterwards = (at: number) => (engaged ? Math.max(at, engaged.until) : at);
  if (handOff && handOff.state !== "taken" && handOff.until !== null)
    want("lapse", handOff.id, afterwards(handOff.until));
  for (const bell of bellsOf(lead)) {
    const next = bell.rungs[bell.climbed];
    if (next) want("rung", `${bellKey(bell)}.${bell.climbed}`, afterwards(next.at));
  }
  if (listed && listed.retryAt !== null && lead.ownerId === null)
    want("route", String(listed.retryAt), afterwards(listed.retryAt));
  for (const { id, at, held } of scheduled) if (!held) want("send", id, at);
  for (const run of cadences) {
    const at = wakesAt(run);
    // While somebody talks or writes to them nothing is sent between.
    if (at !== null) want("touch", `${run.id}.${run.round}.${run.n}`, afterwards(at));
  }
  if (parked?.lookAt && !listed) want("look", String(parked.at), parked.lookAt);
  return timers;
}

/** When something is due about a cadence the lead is in (epoch ms): its touch, the end of a wait or of a pause. Null for nothing. */
export function wakesAt(run: CadenceRun): number | null {
  if (run.state === "paused") return run.pause?.until ?? null;
  if (run.state !== "running") return null;
  return run.waits ? run.waits.until : run.at;
}

export type TimerChange = { readonly set: Timer } | { readonly clear: Timer };

/** What turns the timers of one state into those of another. */
export function timerChanges(before: Lead | null, after: Lead): readonly TimerChange[] {
  const old = new Map((before ? timersOf(before) : []).map((t) => [t.id, t]));
  const changes: TimerChange[] = [];
  for (const timer of timersOf(after)) {
    if (old.get(timer.id)?.dueAt === timer.dueAt) old.delete(timer.id);
    else changes.push({ set: timer });
  }
  return [...[...old.values()].map((clear) => ({ clear })), ...changes];
}
