import type { EventKind, LeadEvent } from "../lead/events.ts";
import { kindsWith } from "../lead/events.ts";
import { foldNext } from "../lead/fold.ts";
import type { Lead } from "../lead/lead.ts";
import type { RuleSet } from "../policy/routing.ts";
import type { Setup } from "../policy/setup.ts";
import { afterTurn, type RotationState, type TurnTaken } from "../rotation/turns.ts";
import { householdOf } from "../routing/household.ts";
import { DayCount, holderOf, shiftLoad } from "../routing/loads.ts";
import { type Decision, type RoutingWorld, route } from "../routing/route.ts";
import { staysWith } from "../routing/set-aside.ts";
import type { MessageWay } from "../vocabulary.ts";
import { type Answer, Answers } from "./answers.ts";
import { decisionIn, type MadeDecision, outcomeOf } from "./decision.ts";
import type { RecordedAct } from "./record.ts";
import { type Cause, type Outcome, sameOutcome, Tally } from "./tally.ts";

/** Kinds that tell routing nothing: whoever reads a record for playback can leave them out. */
export const TELL_NOTHING: readonly EventKind[] = kindsWith("untoldToRouting");

export interface PlaybackOptions {
  readonly rules: RuleSet;
  /** Decisions in this span are made again; before it everything is as it was. Epoch ms, end exclusive. */
  readonly from: number;
  readonly to: number;
  /** The setup whose people, groups and calendar count at a time. */
  readonly setupAt: (at: number) => Setup;
  /** Ways out that are not set up. */
  readonly unset?: ReadonlySet<MessageWay>;
}

/**
 * Plays what happened through other rules. Every decision about a real inquiry is made again by the same `route`, with
 * the loads, turns and daily counts as they would have been.
 *
 * What people did is taken from the record as long as it can be: whoever is offered the same lead as then does what
 * they did then. Whoever is offered another's lead answers as they have really answered offers until then (`Answers`),
 * and what they pass on or let lapse is offered on; what the one it really went to did then no longer counts. A move by
 * hand counts always. With the rules that were live nothing differs, which is tested.
 *
 * One inquiry that goes elsewhere moves the turns and loads of all that come after it. So each difference is asked once
 * more by the rules that were live, with turns and loads as they would have been by then: what goes elsewhere by those as
 * well was moved along, and is not the changed rules' own doing.
 */
export class Playback {
  readonly #options: PlaybackOptions;
  readonly #real = new Map<string, Lead>();
  /** Leads that have gone another way than they did, as they would be. */
  readonly #other = new Map<string, Lead>();
  readonly #loads: Record<string, number> = {};
  readonly #rotations: Record<string, RotationState> = {};
  readonly #today = new DayCount();
  /** What becomes of leads that have gone another way, soonest first: whoever was asked refuses, or routing is tried again. */
  readonly #due: Due[] = [];
  readonly #answers = new Answers();
  /** Leads by the numbers and addresses several people share. */
  readonly #sharing = new Map<string, Set<string>>();
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
    for (let due = this.#due[0]; due && due.at <= at; due = this.#due[0]) {
      this.#due.shift();
      if (due.refuses) this.#refuse(due.leadId, due.at, due.refuses, due.did);
      else this.#retry(due.leadId, due.at);
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
    if (before?.shared !== lead!.shared) this.#share(before, lead!);
    this.#follow(act, before, lead!);
  }

  #share(before: Lead | null, { id, shared }: Lead): void {
    for (const value of before?.shared ?? []) this.#sharing.get(value)?.delete(id);
    for (const value of shared) {
      const leads = this.#sharing.get(value) ?? new Set();
      this.#sharing.set(value, leads.add(id));
    }
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
      household: (lead) => householdOf(lead, this.#find),
    };
  }

  readonly #find = {
    byId: (id: string) => this.#view(this.#real.get(id) ?? null, id),
    sharing: (value: string) =>
      [...(this.#sharing.get(value) ?? [])].flatMap((id) => this.#find.byId(id) ?? []),
  };

  #setupAt(at: number): Setup {
    const then = this.#options.setupAt(at);
    let setup = this.#setups.get(then);
    if (!setup) {
      setup = { ...then, policies: { ...then.policies, ...this.#options.rules } };
      this.#setups.set(then, setup);
    }
    return setup;
  }

  /** A decision that was really made: make it again, and see whether it is the same. */
  #decide(act: RecordedAct, real: Lead, made: MadeDecision): void {
    const { leadId, at } = act;
    const inquired = act.events.some((e) => e.kind === "inquiry");
    const other = this.#other.get(leadId);
    let lead = this.#view(real, leadId)!;
    if (other) {
      // It has gone another way and is in somebody's hands, or waits for its own moment.
      const refusal = act.events.find((e) => e.kind === "passed" || e.kind === "lapsed");
      if (refusal || other.ownerId || this.#due.some((d) => d.leadId === leadId)) {
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
    const differs = !sameOutcome(outcome, then);
    const cause = differs && inquired ? this.#cause(lead, at, outcome) : null;
    if (decision.kind === "offer" && decision.rotation)
      this.#rotations[decision.rotation.groupId] = decision.rotation.after;
    const rule = decision.kind === "offer" ? decision.rule : null;
    this.tally.decided(act, real, then, outcome, rule, inquired, cause);
    const before = this.#view(this.#real.get(leadId) ?? null, leadId);
    if (!differs) {
      this.#other.delete(leadId);
      return;
    }
    const after = this.#gone(lead, decision, at);
    shiftLoad(this.#loads, before, after);
    this.#other.set(leadId, after);
  }

  /** Whether the rules that were live would have decided otherwise in the same situation, or all the same. */
  #cause(lead: Lead, at: number, outcome: Outcome): Cause {
    const world = { ...this.#world(at), setup: this.#options.setupAt(at) };
    return sameOutcome(outcomeOf(route(world, lead, true)), outcome) ? "moved" : "rules";
  }

  /** The lead after a decision nobody's record tells the end of. */
  #gone(lead: Lead, decision: Decision, at: number): Lead {
    const bare = { ...lead, handOff: null, listed: null, turn: null };
    if (decision.kind === "list") {
      const { retryAt, reason } = decision;
      if (retryAt !== null) this.#waitUntil({ at: retryAt, leadId: lead.id, refuses: null, did: "lapsed" });
      return { ...bare, ownerId: null, listed: { reason, at, retryAt } };
    }
    if (decision.kind === "standby") return this.#given(bare, decision.to, at);
    return this.#asked(bare, decision, at);
  }

  /** They answer as they have answered before: whoever takes it has it, what is refused goes on in its time. */
  #asked(bare: Lead, decision: Extract<Decision, { kind: "offer" }>, at: number): Lead {
    const { to, rule, rotation } = decision;
    const answers = to.map((id) => ({ id, ...(this.#answers.of(id) ?? AT_ONCE) }));
    const taker = answers.find((a) => a.did === "took");
    const lead = { ...bare, turn: rotation && { ...rotation.turn } };
    if (taker) return this.#given(lead, taker.id, at);
    const limit = rule.offerMinutes * 60_000;
    const after = Math.min(limit, Math.max(...answers.map((a) => (a.did === "passed" ? a.after : limit))));
    const did = answers.every((a) => a.did === "passed") ? "passed" : "lapsed";
    this.#waitUntil({ at: at + after, leadId: lead.id, refuses: to, did });
    return {
      ...lead,
      ownerId: null,
      handOff: { id: "", state: decision.open ? "open" : "offered", to, until: at + after },
    };
  }

  #given(bare: Lead, ownerId: string, at: number): Lead {
    this.tally.got("would", ownerId);
    this.#countToday(bare, ownerId, at);
    return { ...bare, ownerId, creditId: bare.creditId ?? ownerId, lastOwner: { personId: ownerId, at } };
  }

  /** Whoever was asked passes, or lets it lapse: the turn goes back where it does, and the next is asked. */
  #refuse(leadId: string, at: number, people: readonly string[], did: Answer["did"]): void {
    const lead = this.#other.has(leadId) ? this.#view(this.#real.get(leadId) ?? null, leadId) : null;
    if (!lead || lead.closed || lead.ownerId) return;
    this.tally.refused();
    const { turns } = this.#setupAt(at).policies;
    if (lead.turn && turns[did === "passed" ? "pass" : "lapse"] === "back") this.#turn(lead.turn, -1);
    const next = { ...lead, handOff: null, turn: null, refused: [...new Set([...lead.refused, ...people])] };
    shiftLoad(this.#loads, lead, next);
    this.#again(next, at);
  }

  #countToday(lead: Lead, ownerId: string, at: number): void {
    const got = { kind: "given", at, data: { to: ownerId, reason: "", from: lead.ownerId } } as LeadEvent;
    this.#today.count(this.#setupAt(at), [got]);
  }

  #waitUntil(due: Due): void {
    let i = this.#due.length;
    while (i > 0 && this.#due[i - 1]!.at > due.at) i--;
    this.#due.splice(i, 0, due);
  }

  #retry(leadId: string, at: number): void {
    const real = this.#real.get(leadId);
    const lead = this.#other.has(leadId) ? this.#view(real ?? null, leadId) : null;
    if (!lead || lead.closed || lead.ownerId || !lead.listed) return;
    this.#again(lead, at);
  }

  #again(lead: Lead, at: number): void {
    const decision = route(this.#world(at), lead, true);
    if (decision.kind === "offer" && decision.rotation)
      this.#rotations[decision.rotation.groupId] = decision.rotation.after;
    this.tally.retried(decision.kind === "offer" ? decision.rule : null);
    const after = this.#gone(lead, decision, at);
    shiftLoad(this.#loads, lead, after);
    this.#other.set(lead.id, after);
  }

  /** What an event does to turns and counts, where the lead went the way it did. */
  #settle(lead: Lead | null, event: LeadEvent): void {
    this.#answers.learn(event);
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

/** What becomes of a lead at a moment that no record tells of: those asked refuse, or routing is tried again. */
interface Due {
  readonly at: number;
  readonly leadId: string;
  readonly refuses: readonly string[] | null;
  readonly did: Answer["did"];
}

/** Whoever has answered no offer yet is taken to take it. */
const AT_ONCE: Answer = { did: "took", after: 0 };
