import { type BookChange, BookDraft, type BookWorld } from "../book/draft.ts";
import { followCadences } from "../cadence/course.ts";
import type { Actor, Trace } from "../lead/event.ts";
import type { EventData, EventKind, LeadEvent } from "../lead/events.ts";
import { fold } from "../lead/fold.ts";
import { isAlone, type Lead } from "../lead/lead.ts";
import { type TimerChange, timerChanges } from "../lead/timers.ts";
import type { Alert, OutgoingMessage } from "../message/outgoing.ts";
import { OTHER_BELLS } from "../policy/bells.ts";
import type { HookEvent } from "../policy/hooks.ts";
import type { Problem } from "../refusal.ts";
import { planOther } from "../response/bell.ts";
import type { RotationMove } from "../rotation/turns.ts";
import type { RoutingWorld } from "../routing/route.ts";
import type { Span } from "../time/spans.ts";

/** The small piece of the world a decision needs. `lead` is null when the inquiry makes a new one. */
export interface World extends RoutingWorld {
  readonly lead: Lead | null;
  /** Numbers and addresses nothing automatic may be sent to, whoever they belong to. */
  readonly suppressed: ReadonlySet<string>;
  /** What is booked with a person, from now on. */
  readonly busy: (personId: string) => readonly (Span & { readonly leadId: string })[];
  /**
   * How many people never written to before a source has answered on its own within the last hour, and how many inquiries
   * its busiest hour usually brings.
   */
  readonly replies: (sourceId: string) => { readonly lately: number; readonly usual: number };
  /** The book of customers. */
  readonly book: BookWorld;
  /** How far something that is numbered has come. */
  readonly counted: (name: string) => number;
  /** Nobody will read what leaves: it is put together without its words. Where weeks are run to be counted. */
  readonly wordless?: true;
  /** A fresh, sortable id with that prefix. */
  readonly id: (prefix: string) => string;
}

/** Everything that follows from one thing happening. It is committed whole or not at all. */
export interface Plan {
  readonly actId: string;
  readonly leadId: string;
  readonly before: Lead | null;
  readonly after: Lead;
  readonly events: readonly LeadEvent[];
  readonly timers: readonly TimerChange[];
  readonly messages: readonly OutgoingMessage[];
  readonly alerts: readonly Alert[];
  /** Messages that are called back before they leave; the commit fails when one has left. */
  readonly withdrawn: readonly string[];
  /** Messages that are called back where they have not left yet, and let go where they have. */
  readonly recalled: readonly string[];
  readonly rotations: readonly RotationMove[];
  readonly why: Trace | null;
  /** What changes in the book of customers. */
  readonly book: readonly BookChange[];
  /** What was numbered, and how far it has come. */
  readonly counted: Readonly<Record<string, number>>;
  /** What other systems are told of. */
  readonly told: readonly Told[];
}

/** Something other systems are told of: what they get is made as it is queued. */
export interface Told {
  readonly event: HookEvent;
  readonly leadId: string | null;
  readonly dealId: string | null;
}

export type Decided =
  | { readonly ok: true; readonly plan: Plan }
  | { readonly ok: false; readonly problem: Problem };

/** A plan in the making: each event is folded at once, so the next thought sees what the last one did. */
export class Draft {
  readonly actId: string;
  readonly #world: World;
  readonly #actor: Actor;
  readonly #events: LeadEvent[] = [];
  readonly #messages: OutgoingMessage[] = [];
  readonly #alerts: Alert[] = [];
  readonly #withdrawn: string[] = [];
  readonly #recalled: string[] = [];
  readonly #rotations: RotationMove[] = [];
  readonly leadId: string;
  /** What it changes in the book of customers. */
  readonly book: BookDraft;
  readonly #counted: Record<string, number> = {};
  readonly #told: Told[] = [];
  #lead: Lead | null;
  #why: Trace | null = null;

  constructor(world: World, actor: Actor) {
    this.#world = world;
    this.#actor = actor;
    this.#lead = world.lead;
    this.leadId = world.lead?.id ?? world.id("lead");
    this.actId = world.id("act");
    this.book = new BookDraft(world, actor, this.actId);
  }

  /** The next number of something that is numbered without gaps. */
  count(name: string): number {
    const next = (this.#counted[name] ?? this.#world.counted(name)) + 1;
    this.#counted[name] = next;
    return next;
  }

  /** Other systems are told of it once it is on disk. */
  tellHooks(event: HookEvent, dealId: string | null = null): void {
    this.#told.push({ event, leadId: this.leadId, dealId });
  }

  /** What the plan does so far. */
  get events(): readonly LeadEvent[] {
    return this.#events;
  }

  get world(): World {
    return this.#world;
  }

  /** The lead as the plan leaves it so far. */
  get lead(): Lead {
    if (!this.#lead) throw new Error("A plan's first event must be an inquiry.");
    return this.#lead;
  }

  add<K extends EventKind>(kind: K, data: EventData[K], how: { why?: Trace; actor?: Actor } = {}): this {
    const event = {
      id: this.#world.id("ev"),
      leadId: this.leadId,
      seq: (this.#lead?.seq ?? 0) + 1,
      actId: this.actId,
      at: this.#world.now,
      actor: how.actor ?? this.#actor,
      kind,
      data,
      ...(how.why && { why: how.why }),
    } as LeadEvent;
    this.#events.push(event);
    this.#lead = fold(this.#lead, event);
    if (how.why) this.#why = how.why;
    return this;
  }

  send(message: OutgoingMessage): void {
    this.#messages.push(this.#marked(message));
  }

  alert(alert: Alert): void {
    this.#alerts.push(this.#marked(alert));
  }

  /** Whatever leaves about a test says so in its first word. */
  #marked<T extends OutgoingMessage | Alert>(message: T): T {
    if (!this.lead.test) return message;
    const { subject, body } = message;
    return { ...message, subject: subject && `Test: ${subject}`, body: `Test: ${body}` };
  }

  /** Call back a message that still waits for its moment to leave. */
  withdraw(messageId: string): void {
    this.#withdrawn.push(messageId);
  }

  /** Call back a message, if it waits still. */
  recall(messageId: string): void {
    this.#recalled.push(messageId);
  }

  turn(move: RotationMove | null): void {
    if (move) this.#rotations.push(move);
  }

  /** The world with the rotations as the plan leaves them so far. */
  get routingWorld(): RoutingWorld {
    if (this.#rotations.length === 0) return this.#world;
    const moved = Object.fromEntries(this.#rotations.map((m) => [m.groupId, m.after]));
    return { ...this.#world, rotations: { ...this.#world.rotations, ...moved } };
  }

  /** Bells that have a reason to run since what the plan did, and do not run yet. */
  #watch(): void {
    if (this.#events.length === 0) return;
    const { setup, now } = this.#world;
    const bells = OTHER_BELLS.flatMap((kind) => planOther(setup, this.lead, kind, now) ?? []);
    if (bells.length > 0) this.add("watched", { bells }, { actor: { kind: "desk" } });
  }

  /** Whatever was decided: an open lead that is nobody's, offered to nobody and planned by nobody is a manager's. */
  #leaveNobodyAlone(): void {
    if (this.#events.length === 0 || !isAlone(this.lead)) return;
    this.add("listed", { reason: "nobody has it", retryAt: null }, { actor: { kind: "desk" } });
  }

  done(): Decided {
    if (this.#events.length > 0) followCadences(this, this.#world.lead, this.#world);
    this.#leaveNobodyAlone();
    this.#watch();
    const plan: Plan = {
      actId: this.actId,
      leadId: this.leadId,
      before: this.#world.lead,
      after: this.lead,
      events: this.#events,
      timers: timerChanges(this.#world.lead, this.lead),
      messages: this.#messages,
      alerts: this.#alerts,
      withdrawn: this.#withdrawn,
      recalled: this.#recalled,
      rotations: this.#rotations,
      why: this.#why,
      book: this.book.changes,
      counted: this.#counted,
      told: this.#told,
    };
    return { ok: true, plan };
  }
}
