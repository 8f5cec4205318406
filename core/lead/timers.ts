import type { Lead } from "./lead.ts";

/** What must happen to a lead at a moment, unless something happens before. Its id is its identity. */
export interface Timer {
  readonly id: string;
  readonly leadId: string;
  readonly kind: "lapse" | "rung" | "route" | "send";
  readonly dueAt: number;
}

/**
 * The timers a lead wants, derived from its state alone. Nothing else sets or clears a timer, so none can
 * be forgotten and none outlives its reason.
 */
export function timersOf(lead: Lead): readonly Timer[] {
  const timers: Timer[] = [];
  const want = (kind: Timer["kind"], key: string, dueAt: number) =>
    timers.push({ id: `${lead.id}:${kind}:${key}`, leadId: lead.id, kind, dueAt });
  if (lead.closed) return [];
  const { handOff, bell, listed, scheduled } = lead;
  if (handOff && handOff.state !== "taken" && handOff.until !== null)
    want("lapse", handOff.id, handOff.until);
  if (bell && bell.state !== "answered") {
    const next = bell.rungs[bell.climbed];
    if (next) want("rung", `${bell.n}.${bell.climbed}`, next.at);
  }
  if (listed && listed.retryAt !== null && lead.ownerId === null)
    want("route", String(listed.retryAt), listed.retryAt);
  for (const { id, at } of scheduled) want("send", id, at);
  return timers;
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
