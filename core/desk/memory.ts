import TinyQueue from "tinyqueue";
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
  /** Told of each plan once it is carried out. */
  onPlan: (plan: Plan) => void = () => {};
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
  /** Timers by when they are due; those changed or cleared since are passed over as they come up. */
  readonly #due = new TinyQueue<Timer>([], (a, b) => a.dueAt - b.dueAt || (a.id < b.id ? -1 : 1));
  /** Leads with a booked call, and those that share a number or address: the few that are looked through. */
  readonly #booked = new Set<string>();
  readonly #sharing = new Map<string, Set<string>>();
  /** When leads of each source first got an automatic message, in order. */
  readonly #first = new Map<string, number[]>();
  #count = 0;

  constructor(
    /** May be changed: decisions go by it from then on. */
    public setup: Setup,
    now: number,
    /** Nobody will read what leaves: it is put together without its words. */
    readonly wordless = false,
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
          sharing: (value) => [...(this.#sharing.get(value) ?? [])].flatMap((id) => this.leads.get(id) ?? []),
        }),
      lead: leadId === null ? null : (this.leads.get(leadId) ?? null),
      suppressed: this.suppressed,
      replies: (sourceId) => ({ lately: this.#answered(sourceId), usual: 0 }),
      busy: (personId) =>
        [...this.#booked].flatMap((leadId) => {
          const booked = this.leads.get(leadId)?.booked;
          return booked?.personId === personId && booked.at >= this.now
            ? [{ leadId, from: booked.at, to: booked.at + booked.minutes * 60_000 }]
            : [];
        }),
      book: this.book,
      counted: (name) => this.counters[name] ?? 0,
      ...(this.wordless && { wordless: true as const }),
      id: (prefix) => `${prefix}_${++this.#count}`,
    };
  }

  /** People answered on their own within the last hour, of a source. */
  #answered(sourceId: string): number {
    const times = this.#first.get(sourceId);
    if (!times) return 0;
    const old = times.findIndex((at) => at > this.now - 3_600_000);
    times.splice(0, old < 0 ? times.length : old);
    return times.length;
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
    this.#keep(plan.before, plan.after);
    const events = this.events.get(plan.leadId);
    if (events) events.push(...plan.events);
    else this.events.set(plan.leadId, [...plan.events]);
    for (const change of plan.timers) {
      if ("set" in change) {
        this.timers.set(change.set.id, change.set);
        this.#due.push(change.set);
      } else this.timers.delete(change.clear.id);
    }
    this.messages.push(...plan.messages);
    this.alerts.push(...plan.alerts);
    for (const move of plan.rotations) this.#rotations[move.groupId] = move.after;
    this.book.write(plan.book);
    Object.assign(this.counters, plan.counted);
    shiftLoad(this.#loads, plan.before, plan.after);
    if (!plan.after.test) this.#today.count(this.setup, plan.events);
    this.onPlan(plan);
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

  #keep(before: Lead | null, after: Lead): void {
    this.leads.set(after.id, after);
    if (after.booked) this.#booked.add(after.id);
    else this.#booked.delete(after.id);
    if (after.automatic[0] !== undefined && !before?.automatic.length) {
      const times = this.#first.get(after.sourceId);
      if (times) times.push(after.automatic[0]);
      else this.#first.set(after.sourceId, [after.automatic[0]]);
    }
    if (before?.shared === after.shared) return;
    for (const value of before?.shared ?? []) this.#sharing.get(value)?.delete(after.id);
    for (const value of after.shared) {
      const those = this.#sharing.get(value);
      if (those) those.add(after.id);
      else this.#sharing.set(value, new Set([after.id]));
    }
  }

  /** When the next timer is due (epoch ms); null when none is. */
  nextDue(): number | null {
    for (let first = this.#due.peek(); first; first = this.#due.peek()) {
      if (this.timers.get(first.id) === first) return first.dueAt;
      this.#due.pop();
    }
    return null;
  }

  #firstDue(until: number): Timer | null {
    const at = this.nextDue();
    return at !== null && at <= until ? (this.#due.pop() ?? null) : null;
  }
}
