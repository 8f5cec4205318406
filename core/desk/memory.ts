import { MemoryBook } from "../book/memory.ts";
import type { LeadEvent } from "../lead/events.ts";
import type { Lead } from "../lead/lead.ts";
import type { Timer } from "../lead/timers.ts";
import type { Alert, OutgoingMessage } from "../message/outgoing.ts";
import type { Setup } from "../policy/setup.ts";
import type { RotationState } from "../rotation/turns.ts";
import type { Loads } from "../routing/eligible.ts";
import { householdOf } from "../routing/household.ts";
import { DayCount, shiftLoad } from "../routing/loads.ts";
import type { BookDecided } from "./deals.ts";
import { ON_TIMER } from "./on-timer.ts";
import type { Decided, Plan, World } from "./plan.ts";

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
  readonly book = new MemoryBook();
  readonly counters: Record<string, number> = {};
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
      book: this.book,
      counted: (name) => this.counters[name] ?? 0,
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

  /** Carry out a decision about the book of customers. */
  commitBook(decided: BookDecided): BookDecided {
    if (!decided.ok) return decided;
    const { lead, book } = decided.plan;
    if (lead) this.#apply(lead);
    else this.book.write(book);
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
    this.book.write(plan.book);
    Object.assign(this.counters, plan.counted);
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
