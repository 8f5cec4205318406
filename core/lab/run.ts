import TinyQueue from "tinyqueue";
import { pass, take } from "../desk/hand-off.ts";
import { MemoryDesk } from "../desk/memory.ts";
import type { Plan } from "../desk/plan.ts";
import { receive } from "../desk/receive.ts";
import { logTry } from "../desk/work.ts";
import type { LeadEvent } from "../lead/events.ts";
import type { Lead } from "../lead/lead.ts";
import { nextOnDuty } from "../policy/people.ts";
import { personOf, type Setup } from "../policy/setup.ts";
import { Draws } from "../statistics/draws.ts";
import { DayWatch, type WireDay } from "./day.ts";
import type { Arrival } from "./demand.ts";
import type { Behaviour, Habits } from "./habits.ts";

/** What is run: a company's policies, who comes, and how everybody acts. Times are epoch ms. */
export interface LabRun {
  readonly setup: Setup;
  readonly arrivals: readonly Arrival[];
  readonly behaviour: Behaviour;
  readonly from: number;
  readonly to: number;
  readonly seed: number;
  /** A day of it (epoch ms, end exclusive) whose leads are watched as they hang on the wire. */
  readonly day?: { readonly from: number; readonly to: number } | null;
}

/** What happened in a run, as a desk records it, and how many waited meanwhile. */
export interface LabRecord {
  readonly events: ReadonlyMap<string, readonly LeadEvent[]>;
  /** Messages that left to leads. */
  readonly messages: number;
  /** Leads times the time they waited for their first try (ms), up to the end: over the length of the run it is how many waited. */
  readonly waited: number;
  /** How long each was with leads (ms). */
  readonly busy: ReadonlyMap<string, number>;
  /** Who was reached and is won in the end. */
  readonly won: number;
  readonly day: WireDay | null;
}

/** Something that happens outside of the desk. Those of one moment happen in the order they were thought of. */
interface Act {
  readonly at: number;
  readonly since: number;
  readonly n: number;
  readonly go: () => void;
}

/** A try that somebody is to make, since a time; it is one no more when the lead's plan has another number. */
interface Task {
  readonly leadId: string;
  readonly plan: number;
  readonly since: number;
  readonly n: number;
  /** Nobody has tried them yet: they stand on top, as on the Desk. */
  readonly isFirst: boolean;
}

/** A person as they work: with one lead at a time, others waiting for them, the new ones before those to be tried again, in the order they became theirs to do. */
interface Worker {
  readonly id: string;
  readonly habits: Habits;
  readonly tasks: TinyQueue<Task>;
  /** Whether they will look at their tasks again on their own, when they are free or on duty. */
  looks: boolean;
  freeAt: number;
  busy: number;
}

/** Chance of its own for each thing: the same whatever else happens, so that two policies meet the same people. */
const seedOf = (seed: number, ...parts: readonly (number | string)[]): number => {
  let hash = seed | 0;
  for (const part of parts.join("/")) hash = (Math.imul(hash, 31) + part.charCodeAt(0)) | 0;
  return hash;
};

/**
 * Run a desk over what might be: the very decisions that run it live, with people and leads who act by chance as they were
 * described. A try is written down as it begins; whoever makes it is with the lead for as long as it takes, and takes nothing
 * else up meanwhile. The same run gives the same record. Throws where the set-up can't be used.
 */
export function runLab(run: LabRun): LabRecord {
  const lab = new Lab(run);
  for (const [i, arrival] of run.arrivals.entries()) lab.at(arrival.at, () => lab.arrive(arrival, i));
  return lab.run();
}

class Lab {
  readonly #desk: MemoryDesk;
  readonly #behaviour: Behaviour;
  readonly #to: number;
  readonly #seed: number;
  readonly #acts = new TinyQueue<Act>([], (a, b) => a.at - b.at || a.since - b.since || a.n - b.n);
  readonly #workers = new Map<string, Worker>();
  /** Which arrival a lead is: its chances hang on that. */
  readonly #arrivals = new Map<string, number>();
  /** Tries that are planned for somebody: a lead has one of each at most. */
  readonly #planned = new Map<string, number>();
  /** How often each was asked about each lead. */
  readonly #asked = new Map<string, number>();
  readonly #waiting = new Map<string, number>();
  readonly #watch: DayWatch | null;
  #thought = 0;
  #waited = 0;
  #messages = 0;
  #won = 0;

  constructor({ setup, behaviour, from, to, seed, day }: LabRun) {
    this.#desk = new MemoryDesk(setup, from, true);
    this.#behaviour = behaviour;
    this.#to = to;
    this.#seed = seed;
    this.#watch = day ? new DayWatch(day.from, day.to) : null;
    this.#desk.onPlan = (plan) => {
      this.#watch?.see(plan.after, this.#desk.now);
      this.#follow(plan);
    };
  }

  at(at: number, go: () => void, since = at): void {
    if (at < this.#to) this.#acts.push({ at: Math.ceil(at), since, n: ++this.#thought, go });
  }

  run(): LabRecord {
    for (let act = this.#acts.pop(); act; act = this.#acts.pop()) {
      this.#desk.advance(Math.max(0, act.at - this.#desk.now));
      act.go();
    }
    this.#desk.advance(Math.max(0, this.#to - this.#desk.now));
    for (const since of this.#waiting.values()) this.#waited += this.#to - since;
    return {
      events: this.#desk.events,
      messages: this.#messages,
      waited: this.#waited,
      busy: new Map([...this.#workers].map(([id, w]) => [id, w.busy])),
      won: this.#won,
      day: this.#watch?.told() ?? null,
    };
  }

  #draws(leadId: string, ...what: readonly (number | string)[]): Draws {
    return new Draws(seedOf(this.#seed, this.#arrivals.get(leadId) ?? leadId, ...what));
  }

  arrive({ sourceId, facts }: Arrival, n: number): void {
    const source = this.#desk.setup.sources.find((s) => s.id === sourceId) ?? this.#desk.setup.sources[0];
    if (!source) return;
    const number = String(n).padStart(7, "0");
    const own = { name: `Lead ${n + 1}`, phones: [`+1999${number}`], emails: [`lead${n}@lab.example`] };
    const decided = receive(this.#desk.look(null), {
      inquiryId: `lab_${n}`,
      source,
      facts: { ...facts, ...own },
      matchedOn: null,
      by: { kind: "lead" },
      goesTo: { kind: "rules" },
    });
    if (!decided.ok) return;
    this.#arrivals.set(decided.plan.leadId, n);
    this.#waiting.set(decided.plan.leadId, this.#desk.now);
    this.#desk.commit(decided);
  }

  #worker(id: string): Worker {
    let worker = this.#workers.get(id);
    if (!worker) {
      const habits = this.#behaviour.people.get(id) ?? this.#behaviour.others;
      const tasks = new TinyQueue<Task>(
        [],
        (a, b) => Number(b.isFirst) - Number(a.isFirst) || a.since - b.since || a.n - b.n,
      );
      worker = { id, habits, tasks, looks: false, freeAt: 0, busy: 0 };
      this.#workers.set(id, worker);
    }
    return worker;
  }

  /** What people do about what has just happened. */
  #follow({ leadId, before, after, events, messages }: Plan): void {
    this.#messages += messages.length;
    for (const event of events) {
      if (event.kind === "offered")
        for (const id of event.data.to)
          this.#answer(leadId, id, event.data.handOffId, event.data.askedAt ?? event.at);
    }
    const { ownerId } = after;
    if (!ownerId || after.closed || after.parked || after.customer) return;
    // Whoever has just got it tries at once; what is planned is tried when it is due.
    if (ownerId !== before?.ownerId && after.tries === 0) this.#plan(leadId, ownerId, this.#desk.now, true);
    else if (after.nextStep && after.nextStep !== before?.nextStep && after.nextStep.kind === "call")
      this.#plan(leadId, after.nextStep.personId ?? ownerId, after.nextStep.dueAt);
  }

  /** They hear of an offer, and answer it when they are free, or do not. */
  #answer(leadId: string, personId: string, handOffId: string, askedAt: number): void {
    const worker = this.#worker(personId);
    const { takes, passes, answersAfter, answersWhileBusy } = worker.habits;
    // By how often they were asked: ids hang on all that happened before.
    const asked = `${leadId}/${personId}`;
    const times = (this.#asked.get(asked) ?? 0) + 1;
    this.#asked.set(asked, times);
    const draws = this.#draws(leadId, personId, times, "answer");
    const chance = draws.next();
    if (chance >= takes + passes) return;
    const go = () => {
      const lead = this.#desk.leads.get(leadId);
      if (lead?.handOff?.id !== handOffId || lead.handOff.state === "taken") return;
      if (!answersWhileBusy && worker.freeAt > this.#desk.now) {
        this.at(worker.freeAt, go, askedAt);
        return;
      }
      const world = this.#desk.look(leadId);
      this.#desk.commit(chance < takes ? take(world, personId) : pass(world, personId, "Busy"));
    };
    this.at(this.#desk.now + draws.pick(answersAfter), go, askedAt);
  }

  /** A try of somebody, as soon as they are free and on duty from a time on; a newer plan for the same lead goes before it. */
  #plan(leadId: string, personId: string, from: number, isFirst = false): void {
    const plan = (this.#planned.get(leadId) ?? 0) + 1;
    this.#planned.set(leadId, plan);
    const worker = this.#worker(personId);
    const isNow = from <= this.#desk.now;
    const go = () => {
      worker.tasks.push({ leadId, plan, since: from, n: ++this.#thought, isFirst });
      if (!worker.looks) this.#work(worker);
    };
    if (isNow) go();
    else this.at(from, go);
  }

  /** Somebody takes up what has waited longest for them, if they are free and on duty; if not, they look again when they are. */
  #work(worker: Worker): void {
    worker.looks = false;
    for (let task = worker.tasks.peek(); task; task = worker.tasks.peek()) {
      const lead = this.#stillToDo(task, worker);
      if (!lead) {
        worker.tasks.pop();
        continue;
      }
      const { now, setup } = this.#desk;
      const person = personOf(setup, worker.id);
      const there = worker.freeAt > now ? worker.freeAt : person ? nextOnDuty(person, now) : null;
      if (there === null) return;
      if (there > now) {
        worker.looks = true;
        this.at(there, () => this.#work(worker), task.since);
        return;
      }
      worker.tasks.pop();
      this.#try(lead, worker);
    }
  }

  #stillToDo({ leadId, plan }: Task, { id }: Worker): Lead | null {
    const lead = this.#planned.get(leadId) === plan ? this.#desk.leads.get(leadId) : undefined;
    return lead && !lead.closed && !lead.parked && !lead.customer && lead.ownerId === id ? lead : null;
  }

  #try(lead: Lead, worker: Worker): void {
    const { leads, outcomes } = this.#behaviour;
    const n = lead.tries;
    const draws = this.#draws(lead.id, n, "try");
    const reached = draws.hits(leads.reached[Math.min(n, leads.reached.length - 1)] ?? 0);
    const takes = Math.ceil(draws.wait(worker.habits.handling));
    const { now } = this.#desk;
    worker.freeAt = now + takes;
    worker.busy += Math.min(takes, this.#to - now);
    const since = this.#waiting.get(lead.id);
    if (since !== undefined) {
      this.#waited += now - since;
      this.#waiting.delete(lead.id);
    }
    const wasReached = lead.reached;
    const decided = logTry(this.#desk.look(lead.id), {
      personId: worker.id,
      channel: "call",
      outcome: reached ? outcomes.reached : outcomes.missed,
    });
    this.#desk.commit(decided);
    if (decided.ok && reached && !wasReached && draws.hits(leads.won)) this.#won++;
  }
}
