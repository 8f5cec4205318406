import { book } from "../../core/desk/book.ts";
import { calledIn } from "../../core/desk/call.ts";
import { coverFor, give, pass, take, uncover } from "../../core/desk/hand-off.ts";
import { clicked, hearFrom } from "../../core/desk/hear.ts";
import { MemoryDesk } from "../../core/desk/memory.ts";
import { addNote } from "../../core/desk/notes.ts";
import { park } from "../../core/desk/park.ts";
import { type Decided, Draft, type Plan, type World } from "../../core/desk/plan.ts";
import { receive } from "../../core/desk/receive.ts";
import { close } from "../../core/desk/stage.ts";
import { logTry } from "../../core/desk/work.ts";
import type { EventData, EventKind, LeadEvent } from "../../core/lead/events.ts";
import type { Setup } from "../../core/policy/setup.ts";

/** A record of what happened at a desk: its set-ups from when they held on, and every event in the order they were written. */
export interface Recorded {
  readonly setups: readonly { readonly at: number; readonly setup: Setup }[];
  readonly events: readonly LeadEvent[];
}

export interface Replayed {
  readonly desk: MemoryDesk;
  /** So many events of the replay are those of the record, by kind. */
  readonly alike: ReadonlyMap<EventKind, number>;
  /** Of them those that were put in as they are written, because no decision of the core makes them anew. */
  readonly taken: ReadonlyMap<EventKind, number>;
  /** The first that differs of each lead that went another way. */
  readonly differ: readonly string[];
}

type Of<K extends EventKind> = Extract<LeadEvent, { kind: K }>;

/** An id as a desk that runs makes it, and as one in memory does: what it is of, and a mark that is never the same twice. */
const RECORDED = /^([a-z]+)_0[a-z0-9]{12,}$/;
const MADE = /^([a-z]+)_\d+$/;

/** A desk whose leads have the ids of the record: who is first of one moment, and how cadences are spread, hangs on them. */
class ReplayDesk extends MemoryDesk {
  /** The lead of the record whose first inquiry happens next. */
  arriving = "";

  override look(leadId: string | null): World {
    const world = super.look(leadId);
    return { ...world, id: (prefix) => (prefix === "lead" ? this.arriving : world.id(prefix)) };
  }
}

/**
 * Runs a desk in memory through a record: what came from outside (inquiries, messages, what people did) happens again when it
 * happened, by the decisions that run live; everything the desk did on its own must come about by itself. Compared event for
 * event, for each lead in order, ids by who they stand for.
 */
export function replay({ setups, events }: Recorded): Replayed {
  return new Replay(setups, events).run();
}

class Replay {
  readonly #desk: ReplayDesk;
  readonly #setups: Recorded["setups"];
  readonly #acts: LeadEvent[][] = [];
  /** What is still to come about, of each lead of the replay. */
  readonly #expected = new Map<string, LeadEvent[]>();
  /** Which id of the replay stands for one of the record, and the other way round. */
  readonly #there = new Map<string, string>();
  readonly #back = new Map<string, string>();
  readonly #alike = new Map<EventKind, number>();
  readonly #taken = new Map<EventKind, number>();
  readonly #differ = new Map<string, string>();

  constructor(setups: Recorded["setups"], events: readonly LeadEvent[]) {
    this.#setups = setups;
    for (const event of events) {
      const last = this.#acts.at(-1);
      if (last?.[0]?.actId === event.actId) last.push(event);
      else this.#acts.push([event]);
    }
    this.#desk = new ReplayDesk(setups[0]!.setup, events[0]!.at);
    this.#desk.onPlan = (plan) => this.#compare(plan);
  }

  run(): Replayed {
    let version = 0;
    for (const act of this.#acts) {
      const { at } = act[0]!;
      for (let next = this.#setups[version + 1]; next && next.at <= at; next = this.#setups[++version + 1]) {
        this.#desk.advance(Math.max(0, next.at - this.#desk.now));
        this.#desk.setup = next.setup;
      }
      this.#expect(act);
      if (!isOutside(act)) continue;
      // What is due this very moment waits while the same moment's acts are done.
      if (at > this.#desk.now) this.#desk.advance(at - this.#desk.now);
      const { leadId } = act[0]!;
      const decided = this.#decide(this.#desk.look(leadId), act);
      if (decided.ok) this.#desk.commit(decided);
      else this.#wrong(act[0]!.leadId, `${act[0]!.kind} refused: ${decided.problem.detail}`);
    }
    const { at } = this.#acts.at(-1)![0]!;
    this.#desk.advance(Math.max(0, at - this.#desk.now));
    for (const [recorded, left] of this.#expected)
      if (left.length > 0)
        this.#wrong(recorded, `${left[0]!.kind} did not come about, nor ${left.length - 1} more`);
    return { desk: this.#desk, alike: this.#alike, taken: this.#taken, differ: [...this.#differ.values()] };
  }

  #expect(act: readonly LeadEvent[]): void {
    const { leadId } = act[0]!;
    const expected = this.#expected.get(leadId);
    if (expected) expected.push(...act);
    else this.#expected.set(leadId, [...act]);
  }

  #wrong(leadId: string, said: string): void {
    if (!this.#differ.has(leadId)) this.#differ.set(leadId, `${leadId}: ${said}`);
  }

  /** What the replay has done to a lead must be what comes next in its record. */
  #compare({ leadId, events }: Plan): void {
    if (this.#differ.has(leadId)) return;
    const expected = this.#expected.get(leadId) ?? [];
    for (const event of events) {
      const next = expected.shift();
      const differs = next ? this.#difference(headOf(next), headOf(event), next.kind) : "nothing of the kind";
      if (differs) {
        const time = new Date(event.at).toISOString();
        this.#wrong(leadId, `${time} ${event.kind}: ${differs}`);
        return;
      }
      this.#alike.set(event.kind, (this.#alike.get(event.kind) ?? 0) + 1);
    }
  }

  /** Where two values differ, in words; null where they say the same, ids by who they stand for. */
  #difference(recorded: unknown, made: unknown, at: string): string | null {
    if (typeof recorded === "string" && typeof made === "string") {
      const [, kind] = RECORDED.exec(recorded) ?? [];
      if (kind && MADE.exec(made)?.[1] === kind) {
        const known = this.#there.get(recorded);
        if (known === made && this.#back.get(made) === recorded) return null;
        if (known === undefined && !this.#back.has(made)) {
          this.#there.set(recorded, made);
          this.#back.set(made, recorded);
          return null;
        }
        return `${at} is of another ${kind}`;
      }
    }
    if (typeof recorded !== "object" || typeof made !== "object" || recorded === null || made === null)
      return recorded === made ? null : `${at} is ${JSON.stringify(made)}, not ${JSON.stringify(recorded)}`;
    const [left, right] = [recorded as Record<string, unknown>, made as Record<string, unknown>];
    for (const key of new Set([...Object.keys(left), ...Object.keys(right)])) {
      const differs = this.#difference(left[key], right[key], `${at}.${key}`);
      if (differs) return differs;
    }
    return null;
  }

  /** What happened from outside, decided anew. */
  #decide(world: World, act: readonly LeadEvent[]): Decided {
    const first = act[0]!;
    const of = <K extends EventKind>(kind: K) => act.find((e): e is Of<K> => e.kind === kind);
    const by = first.actor.kind === "person" ? first.actor.id : "";
    const inquiry = of("inquiry");
    if (inquiry) {
      this.#desk.arriving = first.leadId;
      const { inquiryId, sourceId, facts, on, kept } = inquiry.data;
      const likely = of("maybe-same")?.data;
      return receive(world, {
        inquiryId,
        source: world.setup.sources.find((s) => s.id === sourceId)!,
        facts,
        matchedOn: on,
        by: inquiry.actor,
        goesTo: kept ? { kind: "kept" } : { kind: "rules" },
        ...(likely && { likely: this.#mapped(likely.of) }),
      });
    }
    const tried = of("tried");
    if (tried) {
      const { personId, channel, outcome, note } = tried.data;
      const step = act.find((e): e is Of<"next-step"> => e.kind === "next-step" && e.actor.kind === "person");
      const report = { personId, channel, outcome, note };
      const usual = logTry(world, report);
      if (!usual.ok || !step) return usual;
      const made = usual.plan.events.find((e) => e.kind === "next-step" && e.actor.kind === "person");
      // Whoever called has planned something else than the outcome would have.
      if (made && JSON.stringify(made.data) === JSON.stringify(step.data)) return usual;
      return logTry(world, { ...report, nextStep: step.data.step });
    }
    switch (first.kind) {
      case "taken":
        return take(world, first.data.personId);
      case "passed":
        return pass(world, first.data.personId, first.data.reason);
      case "parked":
        return park(
          world,
          by,
          first.data.reason,
          first.data.planId ?? of("cadence-started")?.data.cadenceId ?? null,
          first.data.backTo ? first.data.lookAt : null,
        );
      case "closed":
        return close(world, by, first.data.reason);
      case "clicked":
        return clicked(world, this.#mapped(first.data.messageId), first.data.url);
      case "noted":
        return addNote(world, by, first.data.text, first.data.asks);
    }
    const heard = of("message-in");
    if (heard) {
      const { word, ...message } = heard.data;
      return hearFrom(world, message);
    }
    const call = of("called-in");
    if (call) return calledIn(world, call.data);
    const booked = of("booked");
    if (booked) return book(world, booked.data.booked.at);
    const given = of("given");
    if (given) {
      const { to, from, reason, coversFor } = given.data;
      if (first.actor.kind === "person") return give(world, by, to, reason);
      return coversFor ? coverFor(world, from!, to, reason) : uncover(world, to);
    }
    return this.#asWritten(world, act);
  }

  /** No decision makes it from what is written: what somebody did is put in as it is, and what follows comes about. */
  #asWritten(world: World, act: readonly LeadEvent[]): Decided {
    const draft = new Draft(world, act[0]!.actor);
    for (const { kind, data, actor } of act) {
      if (FOLLOWS.has(kind) && actor.kind === "desk") continue;
      draft.add(kind as "noted", this.#mapped(data) as EventData["noted"], { actor });
      this.#taken.set(kind, (this.#taken.get(kind) ?? 0) + 1);
    }
    return draft.done();
  }

  /** A value with the ids of the replay. */
  #mapped<T>(value: T): T {
    if (typeof value === "string") return (this.#there.get(value) ?? value) as T;
    if (Array.isArray(value)) return value.map((v) => this.#mapped(v)) as T;
    if (typeof value !== "object" || value === null) return value;
    return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, this.#mapped(v)])) as T;
  }
}

/** What comes about at the end of every decision. */
const FOLLOWS: ReadonlySet<EventKind> = new Set(
  ["watched", "listed", "next-step", "task-set"].concat([
    "cadence-started",
    "cadence-touched",
    "cadence-stopped",
    "cadence-paused",
    "cadence-resumed",
    "cadence-moved",
    "cadence-done",
  ]) as EventKind[],
);

/** What is compared of an event: all but its own ids. */
const headOf = ({ at, actor, kind, data }: LeadEvent) => ({ at, actor, kind, data });

/** Whether somebody did it, or whoever sees to absences; all else is the desk's own clock. */
function isOutside(act: readonly LeadEvent[]): boolean {
  if (act.some((e) => e.actor.kind !== "desk")) return true;
  const [first] = act;
  return first?.kind === "given" && !act.some((e) => e.kind === "listed");
}
