import { sql as raw, type Selectable } from "kysely";
import type { Hook } from "../../core/policy/hooks.ts";
import type { HookDeliveryRow } from "../db/schema.ts";
import type { Engine } from "../engine/engine.ts";
import { post } from "./post.ts";

export type Delivery = Selectable<HookDeliveryRow>;

/** So much of what the other side says is kept (characters). */
const KEPT_SAID = 2_000;
/** So many are on their way at once, in all and to one system: a slow one leaves room for the others. */
const AT_ONCE = 96;
const TO_ONE = 48;
/** So many are looked up in one go. */
const LOOKED_UP = 200;
/** How often the clock is looked at (ms). */
const NAP = 1_000;
/** It is tried for so long (ms), and then put aside. */
export const TRIED_FOR = 3 * 86_400_000;
/** The first pause, and the longest (ms). */
const FIRST_PAUSE = 5_000;
const LONGEST_PAUSE = 3_600_000;

/** The pause after so many failures (ms), drawn a little apart so that a system that is back is not rushed. */
export const pauseAfter = (attempts: number, chance: number): number =>
  Math.round(Math.min(LONGEST_PAUSE, FIRST_PAUSE * 2 ** (attempts - 1)) * (0.75 + chance / 2));

/** It is not tried again: no trying would help. */
export class GivenUp extends Error {}

/** How a delivery went. */
interface Outcome {
  readonly row: Delivery;
  readonly status: number | null;
  readonly said: string;
  readonly isDone: boolean;
  readonly isForGood: boolean;
}

interface How {
  readonly headers: (row: Delivery) => Readonly<Record<string, string>>;
  readonly mayBeInside: (hook: Hook) => boolean;
  /** A system has taken a delivery, and said this. Called inside the transaction that records it. */
  readonly taken: (row: Delivery, hook: Hook, said: string) => void;
}

/**
 * Takes deliveries to other systems: of one lead one after the other, of different ones side by side; what comes back together
 * is written together, so that ten thousand drain in seconds. At least once under one id, tried again with growing pauses for
 * three days, then put aside.
 */
export class Deliverer {
  readonly #desk: Engine;
  readonly #how: How;
  readonly #flying = new Map<string, string>();
  readonly #due;
  #landed: Outcome[] = [];
  #quiet: (() => void)[] = [];
  #handle: NodeJS.Timeout | null = null;
  #isLanding = false;
  #stopped = true;

  constructor(desk: Engine, how: How) {
    this.#desk = desk;
    this.#how = how;
    const { q } = desk.sql;
    // The first of its lane that waits: what comes after it waits for it, also between its tries.
    const rows = q
      .selectFrom("hookDeliveries as d")
      .selectAll("d")
      .where("d.state", "=", raw.lit("queued"))
      .where("d.nextAt", "<=", 0)
      .where((eb) =>
        eb.not(
          eb.exists(
            eb
              .selectFrom("hookDeliveries as e")
              .select("e.id")
              .whereRef("e.hookId", "=", "d.hookId")
              .whereRef("e.lane", "=", "d.lane")
              .where("e.state", "=", raw.lit("queued"))
              .whereRef("e.id", "<", "d.id"),
          ),
        ),
      )
      .orderBy("d.nextAt")
      .limit(LOOKED_UP);
    this.#due = desk.sql.hot(rows);
  }

  start(): void {
    this.#stopped = false;
    this.kick();
  }

  stop(): void {
    this.#stopped = true;
    if (this.#handle) clearTimeout(this.#handle);
    this.#land();
    this.#settle();
  }

  /** Something may be due: look at once. */
  kick(): void {
    if (this.#stopped) return;
    if (this.#handle) clearTimeout(this.#handle);
    this.#handle = setTimeout(() => this.kick(), NAP);
    this.#handle.unref();
    if (this.#flying.size <= AT_ONCE / 2) for (const row of this.#next()) void this.#deliver(row);
    if (this.#flying.size === 0) this.#settle();
  }

  /** Resolves when everything due by the clock has been tried. */
  async drained(): Promise<void> {
    while (!this.#stopped && (this.#flying.size > 0 || this.#next().length > 0)) {
      const waits = new Promise<void>((resolve) => this.#quiet.push(resolve));
      this.kick();
      await waits;
    }
  }

  #settle(): void {
    const waiting = this.#quiet;
    this.#quiet = [];
    for (const resolve of waiting) resolve();
  }

  #next(): Delivery[] {
    const busy = new Map<string, number>();
    for (const hookId of this.#flying.values()) busy.set(hookId, (busy.get(hookId) ?? 0) + 1);
    let free = AT_ONCE - this.#flying.size;
    return this.#due.all(this.#desk.clock.now(), LOOKED_UP).filter(({ id, hookId }) => {
      const n = busy.get(hookId) ?? 0;
      if (free === 0 || n >= TO_ONE || this.#flying.has(id)) return false;
      busy.set(hookId, n + 1);
      free--;
      return true;
    });
  }

  async #deliver(row: Delivery): Promise<void> {
    this.#flying.set(row.id, row.hookId);
    const hook = this.#desk.setup.policies.hooks.find((h) => h.id === row.hookId);
    try {
      if (!hook?.on) throw new GivenUp("This system is told no more.");
      const mayBeInside = this.#how.mayBeInside(hook);
      const { status, said } = await post(hook.url, this.#how.headers(row), row.bodyJson, { mayBeInside });
      this.#landed.push({ row, status, said, isDone: status >= 200 && status < 300, isForGood: false });
    } catch (error) {
      const said = error instanceof Error ? error.message : String(error);
      this.#landed.push({ row, status: null, said, isDone: false, isForGood: error instanceof GivenUp });
    }
    if (this.#isLanding) return;
    this.#isLanding = true;
    setImmediate(() => {
      this.#isLanding = false;
      this.#land();
      if (this.#stopped) this.#settle();
      else this.kick();
    });
  }

  /** Write what has come back. What could not be recorded is due still, and goes again under its own id. */
  #land(): void {
    const landed = this.#landed;
    if (landed.length === 0) return;
    this.#landed = [];
    const { sql, log, feed } = this.#desk;
    try {
      sql.transaction(() => {
        for (const outcome of landed) this.#write(outcome);
      });
    } catch (error) {
      log.error({ err: error, deliveries: landed.length }, "deliveries could not be recorded");
    }
    for (const { row } of landed) this.#flying.delete(row.id);
    feed.publish({ n: 0, leadId: null, kinds: ["hooks"] });
  }

  #write({ row, status, said, isDone, isForGood }: Outcome): void {
    const { sql, clock, log } = this.#desk;
    const now = clock.now();
    const attempts = row.attempts + 1;
    const pause = pauseAfter(attempts, Math.random());
    const isLast = isForGood || now + pause > row.since + TRIED_FOR;
    const state = isDone ? "delivered" : isLast ? "dead" : "queued";
    sql.run(
      sql.q
        .updateTable("hookDeliveries")
        .set({
          state,
          attempts,
          status,
          said: said.slice(0, KEPT_SAID),
          answeredAt: now,
          nextAt: state === "queued" ? now + pause : row.nextAt,
        })
        .where("id", "=", row.id)
        // Somebody who was erased meanwhile is told of no more.
        .where("state", "=", raw.lit("queued")),
    );
    if (!isDone) log.warn({ deliveryId: row.id, status, attempts, state }, "a webhook was not taken");
    const hook = this.#desk.setup.policies.hooks.find((h) => h.id === row.hookId);
    if (isDone && hook) this.#how.taken(row, hook, said);
  }
}
