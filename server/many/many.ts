import type { Decided, Plan, World } from "../../core/desk/plan.ts";
import { type DecidedPair, part } from "../../core/desk/same.ts";
import { undo } from "../../core/desk/undo.ts";
import { called } from "../../core/lead/called.ts";
import type { Engine } from "../engine/engine.ts";

/** The longest one stretch keeps the desk (ms); between two, requests get their turn. */
const TURN = 60;
/** So long a job is remembered, and can be taken back (ms). */
const KEPT = 24 * 3_600_000;
/** So many leads that stayed are named one by one. */
const NAMED = 500;

/** What is to be done with one lead, as somebody may who asks; with another one it may be done to both. */
export type Act = (world: World) => Decided | DecidedPair;

/** What is committed, in this order; the first is of the lead that was asked about, or of the one put aside. */
const plansOf = (decided: Extract<Decided | DecidedPair, { readonly ok: true }>): readonly Plan[] =>
  "plan" in decided ? [decided.plan] : [decided.first, decided.second];

/** What it would come to. */
export interface Outlook {
  readonly will: number;
  readonly wont: readonly { readonly reason: string; readonly n: number }[];
}

/** Something done with many leads, beside everything else. */
export interface Job {
  readonly id: string;
  readonly at: number;
  readonly by: string;
  /** What has been done with them, in words that follow a number: “given to Mara”. */
  readonly what: string;
  state: "running" | "done" | "failed";
  done: number;
  readonly total: number;
  said: string;
  readonly acted: { readonly id: string; readonly actId: string }[];
  readonly left: { readonly id: string; readonly name: string; readonly why: string }[];
  /** Whether all of it can be taken back: not what is taking back itself. */
  readonly undoable: boolean;
}

/** How many stay for each reason, the most frequent first. */
export function byReason(reasons: readonly string[]): Outlook["wont"] {
  const counts = new Map<string, number>();
  for (const reason of reasons) counts.set(reason, (counts.get(reason) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1]).map(([reason, n]) => ({ reason, n }));
}

const leads = (n: number) => `${n.toLocaleString("en")} ${n === 1 ? "lead" : "leads"}`;

/**
 * Does the same with many leads: each for itself, so that one that can't be holds up none of the others; a stretch at a
 * time, so that the desk goes on; and all of it can be taken back as one.
 */
export class Many {
  readonly #desk: Engine;
  readonly #jobs = new Map<string, Job>();
  #stopped = false;
  #working: Promise<void> = Promise.resolve();

  constructor(desk: Engine) {
    this.#desk = desk;
  }

  stop(): Promise<void> {
    this.#stopped = true;
    return this.#working;
  }

  /** A job by its id, where whoever asks began it; null else. */
  job(id: string, by: string): Job | null {
    const job = this.#jobs.get(id);
    return job?.by === by ? job : null;
  }

  /** How many it would change, and how many not and why. Changes nothing. */
  async outlook(ids: readonly string[], act: Act): Promise<Outlook> {
    const wont: string[] = [];
    let will = 0;
    for (let at = 0; at < ids.length; ) {
      const begun = performance.now();
      for (; at < ids.length && performance.now() - begun < TURN; at++) {
        const decided = act(this.#desk.looker.look(ids[at]!));
        if (decided.ok) will++;
        else wont.push(decided.problem.detail);
      }
      await turn();
    }
    return { will, wont: byReason(wont) };
  }

  /** Begin; one job after the other. */
  begin(ids: readonly string[], by: string, what: string, act: Act): Job {
    return this.#begin(ids, by, what, true, (id) => act(this.#desk.looker.look(id)));
  }

  /** Take a job back: each lead as it was, where nothing has happened to it since. Null when it can't be. */
  undo(job: Job): Job | null {
    if (job.state === "running" || !job.undoable) return null;
    const acts = new Map(job.acted.map(({ id, actId }) => [id, actId]));
    const { looker, reader } = this.#desk;
    const back = (id: string) => {
      const events = reader.events(id);
      const actId = acts.get(id)!;
      const lead = looker.lead(id);
      const joined = events.some((e) => e.actId === actId && e.kind === "joined-to");
      return joined && lead?.joinedTo
        ? part(looker.look(lead.joinedTo), reader.events(lead.joinedTo), lead, events, job.by)
        : undo(looker.look(id), job.by, actId, events);
    };
    // The last first: of several joined to one, each as it was before the next.
    return this.#begin([...acts.keys()].reverse(), job.by, "as before", false, back);
  }

  /** Whether something is going on, behind which what is begun now would wait. */
  isBusy(): boolean {
    return [...this.#jobs.values()].some((job) => job.state === "running");
  }

  /** When what was begun so far is done. */
  settled(): Promise<void> {
    return this.#working;
  }

  #begin(
    ids: readonly string[],
    by: string,
    what: string,
    undoable: boolean,
    decide: (id: string) => Decided | DecidedPair,
  ): Job {
    const { newId, clock } = this.#desk;
    const at = clock.now();
    for (const [id, old] of this.#jobs) if (old.at < at - KEPT) this.#jobs.delete(id);
    const job: Job = {
      id: newId("job"),
      at,
      by,
      what,
      state: "running",
      done: 0,
      total: ids.length,
      said: "",
      acted: [],
      left: [],
      undoable,
    };
    this.#jobs.set(job.id, job);
    this.#working = this.#working.then(() => this.#work(job, ids, decide));
    return job;
  }

  async #work(
    job: Job,
    ids: readonly string[],
    decide: (id: string) => Decided | DecidedPair,
  ): Promise<void> {
    const { sql, looker, log } = this.#desk;
    let stayed = 0;
    try {
      for (let at = 0; at < ids.length && !this.#stopped; ) {
        const begun = performance.now();
        const plans: Plan[] = [];
        const acted: Plan[] = [];
        let n = 0;
        sql.transaction(() => {
          for (; at < ids.length && performance.now() - begun < TURN; at++) {
            const id = ids[at]!;
            const decided = decide(id);
            if (decided.ok) {
              const own = plansOf(decided);
              n = this.#desk.commitAll(own);
              plans.push(...own);
              acted.push(own[0]!);
            } else if (++stayed <= NAMED) {
              const lead = looker.lead(id);
              job.left.push({ id, name: lead ? called(lead) : id, why: decided.problem.detail });
            }
          }
        });
        // Only what is written counts: a stretch that failed has done nothing.
        for (const { leadId, actId } of acted) job.acted.push({ id: leadId, actId });
        this.#desk.tellOf(plans, n);
        job.done = at;
        await turn();
      }
      job.state = this.#stopped && job.done < job.total ? "failed" : "done";
    } catch (error) {
      looker.reload();
      log.error({ err: error }, "something could not be done with all of many leads");
      job.state = "failed";
    }
    const first = job.left[0];
    job.said = [
      `${leads(job.acted.length)} ${job.what}.`,
      first && `${leads(stayed)} could not be: ${first.name}, ${first.why}`,
      job.state === "failed" && `${leads(job.total - job.done)} were not reached. Try those again.`,
    ]
      .filter(Boolean)
      .join(" ");
  }
}

const turn = () => new Promise((resolve) => setImmediate(resolve));
