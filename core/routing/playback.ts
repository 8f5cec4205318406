import { DayCount, holderOf, shiftLoad } from "../desk/memory.ts";
import type { EventKind, LeadEvent } from "../lead/events.ts";
import { foldNext } from "../lead/fold.ts";
import type { Lead } from "../lead/lead.ts";
import type { MessageWay } from "../policy/alerts.ts";
import type { RuleSet, Setup } from "../policy/policy.ts";
import { afterTurn, type RotationState, type TurnTaken } from "./choose.ts";
import { type Decision, type RoutingWorld, route } from "./route.ts";
import { staysWith } from "./set-aside.ts";
import { type Outcome, sameOutcome, Tally } from "./tally.ts";

/** What happened to one lead in one act, as it was recorded. */
export interface RecordedAct {
  readonly leadId: string;
  readonly at: number;
  readonly events: readonly LeadEvent[];
}

/** Kinds that tell routing nothing: whoever reads a record for playback can leave them out. */
export const TELL_NOTHING: readonly EventKind[] = [
  "alerted",
  "message-out",
  "clicked",
  "engaged",
  "let-be",
  "noted",
  "called-out",
  "held-back",
  "scheduled",
  "unscheduled",
  "pinned",
  "nudged",
  "rang",
  "bell-started",
  "next-step",
];

export interface PlaybackOptions {
  readonly rules: RuleSet;
  /** Decisions in this span are made anew; before it everything is as it was. Epoch ms, end exclusive. */
  readonly from: number;
  readonly to: number;
  /** The setup whose people, groups and calendar count at a time. */
  readonly setupAt: (at: number) => Setup;
  /** Ways out that are not set up. */
  readonly unset?: ReadonlySet<MessageWay>;
}

/**
 * Plays what happened through other rules. Every decision about a real inquiry is made anew by the same `route`, with
 * the loads, turns and daily counts as they would have been.
 *
 * What people did is taken from the record as long as it can be: whoever is offered the same lead as then does what
 * they did then. Whoever is offered another's lead is taken to take it at once; what the one it really went to did
 * then no longer counts. A move by hand counts always. With the rules that were live nothing differs, which is tested.
 */
export class Playback {
  readonly #options: PlaybackOptions;
  readonly #real = new Map<string, Lead>();
  /** Leads that have gone another way than they did, as they would be. */
  readonly #other = new Map<string, Lead>();
  readonly #loads: Record<string, number> = {};
  readonly #rotations: Record<string, RotationState> = {};
  readonly #today = new DayCount();
  /** When routing is tried again for leads that have gone another way, soonest first. */
  readonly #retries: { at: number; leadId: string }[] = [];
  /** Leads that were tests: no decision about them is one of the desk's. */
  readonly #tests = new Set<string>();
  readonly #setups = new WeakMap<Setup, Setup>();
  readonly tally: Tally;

  constructor(options: PlaybackOptions) {
    this.#options = options;
    this.tally = new Tally(options.rules);
  }

  /** The next act, in the order in which they happened. */
  feed(act: RecordedAct): void {
    const { at, leadId } = act;
    for (let due = this.#retries[0]; due && due.at <= at; due = this.#retries[0]) {
      this.#retries.shift();
      this.#retry(due.leadId, due.at);
    }
    const before = this.#real.get(leadId) ?? null;
    const [first] = act.events;
    if (!before && first?.kind === "inquiry" && first.data.test) this.#tests.add(leadId);
    if (this.#tests.has(leadId)) return;
    const made = at >= this.#options.from && at < this.#options.to ? decisionIn(act) : null;
    let lead = before;
    for (const event of act.events) {
      if (made && event === made.event) this.#decide(act, lead!, made);
      this.#settle(lead, event);
      lead = foldNext(lead, event);
    }
    if (made && !made.event) this.#decide(act, lead!, made);
    this.#real.set(leadId, lead!);
    this.#follow(act, before, lead!);
  }

  /** The lead as it would be: as it was, but for whose it is. */
  #view(real: Lead | null, leadId: string): Lead | null {
    const other = this.#other.get(leadId);
    if (!other || !real) return real;
    const { ownerId, handOff, refused, turn, lastOwner, creditId, listed } = other;
    return { ...real, ownerId, handOff, refused, turn, lastOwner, creditId, listed };
  }

  #world(at: number): RoutingWorld {
    const setup = this.#setupAt(at);
    return {
      now: at,
      ...(this.#options.unset && { unset: this.#options.unset }),
      setup,
      loads: this.#loads,
      rotations: this.#rotations,
      today: this.#today.of(setup, at),
      household: (lead) => this.#household(lead),
    };
  }

  #setupAt(at: number): Setup {
    const then = this.#options.setupAt(at);
    let setup = this.#setups.get(then);
    if (!setup) {
      setup = { ...then, policies: { ...then.policies, ...this.#options.rules } };
      this.#setups.set(then, setup);
    }
    return setup;
  }

  #household(lead: Lead): { leadName: string; ownerId: string }[] {
    return lead.related.flatMap(({ leadId }) => {
      const other = leadId ? this.#view(this.#real.get(leadId) ?? null, leadId) : null;
      return other?.ownerId ? [{ leadName: other.name ?? "somebody", ownerId: other.ownerId }] : [];
    });
  }

  /** A decision that was really made: make it anew, and see whether it is the same. */
  #decide(act: RecordedAct, real: Lead, made: MadeDecision): void {
    const { leadId, at } = act;
    const inquired = act.events.some((e) => e.kind === "inquiry");
    const other = this.#other.get(leadId);
    let lead = this.#view(real, leadId)!;
    if (other) {
      // It has gone another way and is in somebody's hands, or waits for its own moment.
      const refusal = act.events.find((e) => e.kind === "passed" || e.kind === "lapsed");
      if (refusal || other.ownerId || this.#retries.some((r) => r.leadId === leadId)) {
        if (inquired) this.tally.kept(act, real, made.outcome, lead.ownerId);
        return;
      }
      if (inquired) lead = { ...lead, refused: [] };
    }
    const wasClosed = act.events.some((e) => e.kind === "reopened");
    const keeper = inquired ? staysWith(lead, wasClosed, this.#setupAt(at)) : null;
    if (keeper) {
      if (made.outcome.kind === "kept") return;
      this.tally.kept(act, real, made.outcome, keeper);
      this.#other.set(leadId, lead);
      return;
    }
    const then =
      made.outcome.kind === "kept" && real.ownerId ? { ...made.outcome, to: [real.ownerId] } : made.outcome;
    const decision = route(this.#world(at), lead, true);
    const outcome = outcomeOf(decision);
    if (decision.kind === "offer" && decision.rotation)
      this.#rotations[decision.rotation.groupId] = decision.rotation.after;
    const rule = decision.kind === "offer" ? decision.rule : null;
    this.tally.decided(act, real, then, outcome, rule, inquired);
    const before = this.#view(this.#real.get(leadId) ?? null, leadId);
    if (sameOutcome(outcome, then)) {
      this.#other.delete(leadId);
      return;
    }
    const after = this.#gone(lead, decision, at);
    shiftLoad(this.#loads, before, after);
    this.#other.set(leadId, after);
  }

  /** The lead after a decision nobody's record tells the end of. */
  #gone(lead: Lead, decision: Decision, at: number): Lead {
    const bare = { ...lead, handOff: null, listed: null, turn: null };
    if (decision.kind === "list") {
      const { retryAt, reason } = decision;
      if (retryAt !== null) this.#waitUntil(retryAt, lead.id);
      return { ...bare, ownerId: null, listed: { reason, at, retryAt } };
    }
    const ownerId = decision.kind === "offer" ? decision.to[0]! : decision.to;
    this.tally.got("would", ownerId);
    this.#countToday(lead, ownerId, at);
    return { ...bare, ownerId, creditId: lead.creditId ?? ownerId, lastOwner: { personId: ownerId, at } };
  }

  #countToday(lead: Lead, ownerId: string, at: number): void {
    const got = { kind: "given", at, data: { to: ownerId, reason: "", from: lead.ownerId } } as LeadEvent;
    this.#today.count(this.#setupAt(at), [got]);
  }

  #waitUntil(at: number, leadId: string): void {
    let i = this.#retries.length;
    while (i > 0 && this.#retries[i - 1]!.at > at) i--;
    this.#retries.splice(i, 0, { at, leadId });
  }

  #retry(leadId: string, at: number): void {
    const real = this.#real.get(leadId);
    const lead = this.#other.has(leadId) ? this.#view(real ?? null, leadId) : null;
    if (!lead || lead.closed || lead.ownerId || !lead.listed) return;
    const decision = route(this.#world(at), lead, true);
    if (decision.kind === "offer" && decision.rotation)
      this.#rotations[decision.rotation.groupId] = decision.rotation.after;
    this.tally.retried(decision.kind === "offer" ? decision.rule : null);
    const after = this.#gone(lead, decision, at);
    shiftLoad(this.#loads, lead, after);
    this.#other.set(leadId, after);
  }

  /** What an event does to turns and counts, where the lead went the way it did. */
  #settle(lead: Lead | null, event: LeadEvent): void {
    const gone = this.#other.has(event.leadId);
    this.tally.heed(event, gone);
    if (gone) return;
    this.#today.count(this.#setupAt(event.at), [event]);
    const decides = event.at >= this.#options.from && event.at < this.#options.to;
    if (event.kind === "offered" && event.data.turn && (!decides || event.data.ruleId === "by-hand"))
      this.#turn(event.data.turn);
    const back =
      event.kind === "turn-credited" ||
      ((event.kind === "passed" || event.kind === "lapsed") && event.data.turnBack);
    if (back && lead?.turn) this.#turn(lead.turn, -1);
  }

  #turn(turn: TurnTaken, times: 1 | -1 = 1): void {
    this.#rotations[turn.groupId] = afterTurn(turn, this.#rotations[turn.groupId] ?? {}, times);
  }

  /** Keep the loads right, and bring a lead back to its real way when somebody moved it by hand. */
  #follow(act: RecordedAct, before: Lead | null, after: Lead): void {
    const other = this.#other.get(act.leadId);
    if (!other) {
      // A decision that brought it back has left the load with whoever would have had it: moved on from there.
      shiftLoad(this.#loads, before, after);
      return;
    }
    const byHand = act.events.some((e) => e.kind === "given" && e.actor.kind === "person");
    const was = this.#view(before ?? after, act.leadId);
    if (byHand || after.joinedTo) this.#other.delete(act.leadId);
    const is = this.#view(after, act.leadId)!;
    if (holderOf(was) !== holderOf(is)) shiftLoad(this.#loads, was, is);
  }
}

interface MadeDecision {
  /** The event that says it; null when nothing had to be said, since the lead stayed where it was. */
  readonly event: LeadEvent | null;
  readonly outcome: Outcome;
}

/** The decision of the rules in an act, if it made one: what a ladder, a try or a person did is none. */
export function decisionIn({ events }: RecordedAct): MadeDecision | null {
  if (events.some((e) => e.kind === "stood-by" || e.kind === "tried")) return null;
  for (const event of events) {
    if (event.kind === "offered" && event.data.ruleId !== "by-hand") {
      const { to, ruleId = null, groupId = null } = event.data;
      return { event, outcome: { kind: "offer", to, ruleId, groupId, waitUntil: null } };
    }
    if (event.actor.kind !== "desk") continue;
    if (event.kind === "given" && event.data.standby)
      return {
        event,
        outcome: { kind: "standby", to: [event.data.to], ruleId: null, groupId: null, waitUntil: null },
      };
    if (event.kind === "listed")
      return {
        event,
        outcome: { kind: "list", to: [], ruleId: null, groupId: null, waitUntil: event.data.retryAt },
      };
  }
  return events.some((e) => e.kind === "inquiry") && events.some((e) => e.kind === "reopened")
    ? { event: null, outcome: { kind: "kept", to: [], ruleId: null, groupId: null, waitUntil: null } }
    : null;
}

function outcomeOf(decision: Decision): Outcome {
  if (decision.kind === "offer") {
    const { to, rule } = decision;
    return {
      kind: "offer",
      to,
      ruleId: rule.id,
      groupId: "group" in rule.to ? rule.to.group : null,
      waitUntil: null,
    };
  }
  const to = decision.kind === "standby" ? [decision.to] : [];
  return {
    kind: decision.kind,
    to,
    ruleId: null,
    groupId: null,
    waitUntil: decision.kind === "list" ? decision.retryAt : null,
  };
}
