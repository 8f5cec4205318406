import { goByPoliciesNow, reckonAgain } from "../../core/desk/bells.ts";
import type { Plan } from "../../core/desk/plan.ts";
import type { Engine, Owed } from "../engine/engine.ts";

/** What a sweep does to every lead with a running bell. */
const SWEEPS = { reckon: reckonAgain, anew: goByPoliciesNow } as const satisfies Record<Owed, unknown>;

/** Leads of one transaction; between two, requests get their turn. */
const SLICE = 100;

/**
 * Goes through every running bell after a change of hours or targets, a slice at a time, and writes only where a time
 * differs. That a sweep is due is kept with the change itself: one that was cut off begins again, and finds most of it
 * done. A rung that falls due meanwhile is reckoned again before it is climbed, so nothing rings by an old calendar.
 */
export class Sweep {
  readonly #desk: Engine;
  #running: Promise<number> = Promise.resolve(0);
  #stopped = false;

  constructor(desk: Engine) {
    this.#desk = desk;
    desk.onSetup({
      inside: (before, after, _by, owes) => {
        if (before.policies.desk !== after.policies.desk) this.owe("reckon");
        if (owes) this.owe(owes);
      },
      after: () => void this.run(),
    });
  }

  /** Note that a sweep is due. Call it in the transaction of what makes it due. */
  owe(kind: Owed): void {
    // Counted, so that a change made while its like is swept is not taken for done.
    this.#desk.kept.setCounter(`sweep-${kind}`, this.#owed(kind) + 1);
  }

  #owed(kind: Owed): number {
    return this.#desk.kept.counter(`sweep-${kind}`) ?? 0;
  }

  /** Do what is owed, after what runs already. Gives how many leads have other times now. */
  run(): Promise<number> {
    this.#running = this.#running.then(async () => {
      let moved = 0;
      for (const kind of Object.keys(SWEEPS) as Owed[])
        if (this.#owed(kind) > 0) moved += await this.#sweep(kind);
      return moved;
    });
    return this.#running;
  }

  /** When all that is owed is done; gives how many leads have other times by the last of it. */
  settled(): Promise<number> {
    return this.#running;
  }

  async stop(): Promise<void> {
    this.#stopped = true;
    await this.#running;
  }

  async #sweep(kind: Owed): Promise<number> {
    const { sql, looker, timers, log } = this.#desk;
    const owed = this.#owed(kind);
    let failed = false;
    const rung = sql.q.selectFrom("timers").select("leadId").distinct().where("kind", "=", "rung");
    const ids = sql.all(rung).map((row) => row.leadId);
    let moved = 0;
    for (let i = 0; i < ids.length && !this.#stopped; i += SLICE) {
      const plans: Plan[] = [];
      try {
        const n = sql.transaction(() => {
          let last = 0;
          for (const id of ids.slice(i, i + SLICE)) {
            const decided = SWEEPS[kind](looker.look(id));
            if (!decided.ok || decided.plan.events.length === 0) continue;
            last = this.#desk.commitAll([decided.plan]);
            plans.push(decided.plan);
          }
          return last;
        });
        this.#desk.tellOf(plans, n);
        moved += plans.length;
      } catch (error) {
        // Still owed: done at the next change or start. Until then each rung is reckoned again as it falls due.
        looker.reload();
        failed = true;
        log.error({ err: error, kind }, "bells could not be reckoned again");
      }
      await new Promise((resolve) => setImmediate(resolve));
    }
    if (!this.#stopped && !failed && this.#owed(kind) === owed)
      this.#desk.kept.setCounter(`sweep-${kind}`, 0);
    timers.refresh();
    return moved;
  }
}
