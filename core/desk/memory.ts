import type { LeadEvent } from "../lead/events.ts";
import type { Lead } from "../lead/lead.ts";
import type { Timer } from "../lead/timers.ts";
import type { Alert, OutgoingMessage } from "../message/outgoing.ts";
import type { Setup } from "../policy/policy.ts";
import type { RotationState } from "../routing/choose.ts";
import type { Loads } from "../routing/eligible.ts";
import { endOfDay, startOfDay } from "../time/defer.ts";
import { climb } from "./climb.ts";
import { lapse, routeAgain } from "./hand-off.ts";
import { lookAgain, slowStep } from "./park.ts";
import type { Decided, Plan, World } from "./plan.ts";
import { sendDue } from "./send-due.ts";

/** What a timer of each kind does when it falls due. */
export const ON_TIMER: Record<Exclude<Timer["kind"], "wipe">, (world: World, timer: Timer) => Decided> = {
  lapse,
  rung: climb,
  route: routeAgain,
  send: sendDue,
  slow: slowStep,
  look: lookAgain,
};

/** Who counts a lead as theirs: its owner, or the one person it is offered to. */
export function holderOf(lead: Lead | null): string | null {
  if (!lead || lead.closed) return null;
  return lead.ownerId ?? (lead.handOff?.state === "offered" ? (lead.handOff.to[0] ?? null) : null);
}

/** Move the load from whoever held the lead to whoever holds it now; a test is no load. Changes `loads`. */
export function shiftLoad(loads: Record<string, number>, before: Lead | null, after: Lead): void {
  const from = before?.test ? null : holderOf(before);
  const to = after.test ? null : holderOf(after);
  if (from === to) return;
  if (from) loads[from] = (loads[from] ?? 0) - 1;
  if (to) loads[to] = (loads[to] ?? 0) + 1;
}

/** Who has got the lead by this event; null when nobody has. What counts against a daily ceiling. */
export function gotBy(event: LeadEvent): string | null {
  if (event.kind === "taken") return event.data.personId;
  return event.kind === "given" ? event.data.to : null;
}

/** How many leads each person has got on one date of the desk. */
export class DayCount {
  /** The local day that is counted: epoch ms, end exclusive. */
  #day = { from: 0, to: 0 };
  #counts: Record<string, number> = {};

  /** The counts of the date of `now`. */
  of(setup: Setup, now: number): Loads {
    this.#turn(setup, now);
    return this.#counts;
  }

  count(setup: Setup, events: readonly LeadEvent[]): void {
    for (const event of events) {
      const person = gotBy(event);
      if (!person) continue;
      this.#turn(setup, event.at);
      this.#counts[person] = (this.#counts[person] ?? 0) + 1;
    }
  }

  #turn(setup: Setup, at: number): void {
    if (at >= this.#day.from && at < this.#day.to) return;
    const { zone } = setup.policies.desk;
    this.#day = { from: startOfDay(at, zone), to: endOfDay(at, zone) };
    this.#counts = {};
  }
}

/** Leads of the same household: entered as related, or sharing a number several people have. Newest first. */
export function householdOf(
  lead: Lead,
  find: { byId: (id: string) => Lead | null; sharing: (value: string) => readonly Lead[] },
): { leadName: string; ownerId: string }[] {
  const others = [
    ...lead.related.flatMap((r) => (r.leadId ? (find.byId(r.leadId) ?? []) : [])),
    ...[...lead.phones, ...lead.emails].flatMap((value) => find.sharing(value)),
  ];
  const owned = others.flatMap((o) =>
    o.id !== lead.id && o.ownerId && !o.joinedTo
      ? [{ leadName: o.name ?? "somebody", ownerId: o.ownerId, at: o.lastActivityAt }]
      : [],
  );
  return owned.sort((a, b) => b.at - a.at);
}

/**
 * A whole desk in memory: the same decisions, with maps in the database's place. For playing histories
 * back, for simulation, and for tests of what must hold whatever happens.
 */
export class MemoryDesk {
  now: number;
  readonly leads = new Map<string, Lead>();
  readonly events = new Map<string, LeadEvent[]>();
  readonly timers = new Map<string, Timer>();
  readonly messages: OutgoingMessage[] = [];
  readonly alerts: Alert[] = [];
  readonly suppressed = new Set<string>();
  readonly #loads: Record<string, number> = {};
  readonly #today = new DayCount();
  readonly #rotations: Record<string, RotationState> = {};
  #count = 0;

  constructor(
    /** May be changed: decisions go by it from then on. */
    public setup: Setup,
    now: number,
  ) {
    this.now = now;
  }

  get loads(): Loads {
    return this.#loads;
  }

  /** The world as a decision about this lead sees it now. */
  look(leadId: string | null): World {
    return {
      now: this.now,
      setup: this.setup,
      loads: this.#loads,
      rotations: this.#rotations,
      today: this.#today.of(this.setup, this.now),
      household: (lead) =>
        householdOf(lead, {
          byId: (id) => this.leads.get(id) ?? null,
          sharing: (value) => [...this.leads.values()].filter((l) => l.shared.includes(value)),
        }),
      lead: leadId === null ? null : (this.leads.get(leadId) ?? null),
      suppressed: this.suppressed,
      replies: (sourceId) => ({ lately: this.#answered(sourceId), usual: 0 }),
      busy: (personId) =>
        [...this.leads.values()].flatMap(({ id, booked }) =>
          booked?.personId === personId && booked.at >= this.now
            ? [{ leadId: id, from: booked.at, to: booked.at + booked.minutes * 60_000 }]
            : [],
        ),
      id: (prefix) => `${prefix}_${++this.#count}`,
    };
  }

  #answered(sourceId: string): number {
    return [...this.leads.values()].filter(
      (l) => l.sourceId === sourceId && l.automatic[0] !== undefined && l.automatic[0] > this.now - 3_600_000,
    ).length;
  }

  /** Carry out a decision; gives it back, so that a refusal can be looked at. */
  commit(decided: Decided): Decided {
    if (decided.ok) this.#apply(decided.plan);
    return decided;
  }

  #apply(plan: Plan): void {
    this.leads.set(plan.leadId, plan.after);
    this.events.set(plan.leadId, [...(this.events.get(plan.leadId) ?? []), ...plan.events]);
    for (const change of plan.timers) {
      if ("set" in change) this.timers.set(change.set.id, change.set);
      else this.timers.delete(change.clear.id);
    }
    this.messages.push(...plan.messages);
    this.alerts.push(...plan.alerts);
    for (const move of plan.rotations) this.#rotations[move.groupId] = move.after;
    shiftLoad(this.#loads, plan.before, plan.after);
    if (!plan.after.test) this.#today.count(this.setup, plan.events);
  }

  /** Move time forward, running every timer at its own moment, in order. Returns how many ran. */
  advance(ms: number): number {
    const until = this.now + ms;
    let ran = 0;
    for (let next = this.#firstDue(until); next; next = this.#firstDue(until)) {
      this.now = Math.max(this.now, next.dueAt);
      this.timers.delete(next.id);
      if (next.kind === "wipe") this.#wipe(next.leadId);
      else this.commit(ON_TIMER[next.kind](this.look(next.leadId), next));
      ran++;
    }
    this.now = until;
    return ran;
  }

  #wipe(leadId: string): void {
    this.leads.delete(leadId);
    this.events.delete(leadId);
    for (const timer of this.timers.values()) if (timer.leadId === leadId) this.timers.delete(timer.id);
  }

  #firstDue(until: number): Timer | null {
    let first: Timer | null = null;
    for (const timer of this.timers.values())
      if (
        timer.dueAt <= until &&
        (!first || timer.dueAt < first.dueAt || (timer.dueAt === first.dueAt && timer.id < first.id))
      )
        first = timer;
    return first;
  }
}
