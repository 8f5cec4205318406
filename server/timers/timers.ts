import type { Logger } from "pino";
import { ON_TIMER } from "../../core/desk/on-timer.ts";
import type { Decided, Plan, World } from "../../core/desk/plan.ts";
import type { Timer } from "../../core/lead/timers.ts";
import type { Clock } from "../clock.ts";
import type { Sql } from "../db/sql.ts";

interface Parts {
  readonly sql: Sql;
  readonly clock: Clock;
  readonly look: (leadId: string) => World;
  readonly commit: (plan: Plan) => number;
  readonly reload: () => void;
  /** Take a test lead out again, in the transaction that is open. */
  readonly wipe: (leadId: string) => void;
  readonly wiped: () => void;
  readonly committed: (plans: readonly Plan[], lastEvent: number) => void;
  readonly log: Logger;
}

type Due = Timer & { readonly attempts: number };

/** What one transaction of due timers came to. */
interface Batch {
  readonly plans: Plan[];
  last: number;
  ran: number;
  wiped: number;
}

/** How many due timers share one transaction at most, and for how long (ms); between two, requests get their turn. */
const BATCH = 200;
const TURN = 75;
/** The longest the runner sleeps, so that a changed machine clock is noticed within a second. */
const NAP = 1_000;

/**
 * Durable timers. A due timer's effect and its removal are one transaction, so it happens once whatever is
 * killed when; those missed while switched off run in the order they fell due. Asking "is anything due?"
 * costs one comparison, however many timers run.
 */
export class Timers {
  readonly #parts: Parts;
  readonly #due;
  readonly #remove;
  readonly #first;
  #nextDue = Number.POSITIVE_INFINITY;
  #handle: NodeJS.Timeout | null = null;

  constructor(parts: Parts) {
    const { sql } = parts;
    this.#parts = parts;
    const ordered = sql.q.selectFrom("timers").orderBy("dueAt").orderBy("id");
    this.#due = sql.hot(
      ordered.select(["id", "leadId", "kind", "dueAt", "attempts"]).where("dueAt", "<=", 0).limit(BATCH),
    );
    this.#remove = sql.hot(sql.q.deleteFrom("timers").where("dueAt", "=", 0).where("id", "=", ""));
    this.#first = sql.hot(ordered.select("dueAt").limit(1));
    this.refresh();
  }

  /** When the next timer is due (epoch ms); infinite when none runs. */
  get nextDue(): number {
    return this.#nextDue;
  }

  /** Read from the database when the next one is due. */
  refresh(): void {
    this.#nextDue = this.#first.get(1)?.dueAt ?? Number.POSITIVE_INFINITY;
  }

  /** A plan has been committed: its timers may be due before the one waited for. */
  heed(plan: Plan): void {
    for (const change of plan.timers)
      if ("set" in change && change.set.dueAt < this.#nextDue) this.#nextDue = change.set.dueAt;
  }

  /** Run by the clock from now on. */
  start(): void {
    this.tick();
    const wait = Math.min(NAP, Math.max(1, this.#nextDue - this.#parts.clock.now()));
    this.#handle = setTimeout(() => this.start(), wait);
  }

  stop(): void {
    if (this.#handle) clearTimeout(this.#handle);
    this.#handle = null;
  }

  /** Run what is due now, one batch. Returns how many ran. */
  tick(): number {
    return this.#nextDue > this.#parts.clock.now() ? 0 : this.runDue();
  }

  /** Run one batch of due timers, in the order they fell due. Returns how many ran. */
  runDue(): number {
    const { clock, committed, reload, wiped, log } = this.#parts;
    let batch: Batch;
    try {
      batch = this.#runBatch((timer, batch) => this.#act(timer, batch));
    } catch {
      // One of them failed, and took the others with it: once more, each for itself.
      reload();
      try {
        batch = this.#runBatch((timer, batch) => this.#actAlone(timer, batch));
      } catch (error) {
        reload();
        log.error({ err: error }, "due timers could not be written; they stay due");
        this.#nextDue = clock.now() + NAP;
        return 0;
      }
    }
    if (batch.wiped > 0) reload();
    this.refresh();
    committed(batch.plans, batch.last);
    if (batch.wiped > 0) wiped();
    return batch.ran;
  }

  #runBatch(act: (timer: Due, batch: Batch) => void): Batch {
    const { sql, clock } = this.#parts;
    const batch: Batch = { plans: [], last: 0, ran: 0, wiped: 0 };
    sql.transaction(() => {
      const begun = performance.now();
      for (const timer of this.#due.all(clock.now(), BATCH)) {
        act(timer as Due, batch);
        batch.ran++;
        if (performance.now() - begun > TURN) break;
      }
    });
    return batch;
  }

  #act(timer: Due, batch: Batch): void {
    const { look, commit, wipe } = this.#parts;
    this.#remove.run(timer.dueAt, timer.id);
    if (timer.kind === "wipe") {
      wipe(timer.leadId);
      batch.wiped++;
      return;
    }
    const decided: Decided = ON_TIMER[timer.kind](look(timer.leadId), timer);
    if (!decided.ok || decided.plan.events.length === 0) return;
    batch.last = commit(decided.plan);
    batch.plans.push(decided.plan);
  }

  #actAlone(timer: Due, batch: Batch): void {
    const { sql, reload, log, clock } = this.#parts;
    const before = batch.plans.length;
    try {
      sql.transaction(() => this.#act(timer, batch));
    } catch (error) {
      batch.plans.length = before;
      // One lead's fault must not hold up the others: it is tried again, less and less often.
      reload();
      log.error({ err: error, timer }, "a timer failed");
      const dueAt = clock.now() + Math.min(3_600_000, 60_000 * 2 ** timer.attempts);
      const { q } = sql;
      sql.run(
        q
          .updateTable("timers")
          .set({ dueAt, attempts: timer.attempts + 1 })
          .where("dueAt", "=", timer.dueAt)
          .where("id", "=", timer.id),
      );
    }
  }
}
