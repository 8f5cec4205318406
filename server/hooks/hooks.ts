import { sql as raw, type Selectable } from "kysely";
import { Webhook } from "standardwebhooks";
import { BookDraft } from "../../core/book/draft.ts";
import { isDeal } from "../../core/book/records.ts";
import type { Told } from "../../core/desk/plan.ts";
import type { Lead } from "../../core/lead/lead.ts";
import { HOOK_EVENTS } from "../../core/policy/hooks.ts";
import type { KeptValues } from "../db/kept.ts";
import type { HookDeliveryRow } from "../db/schema.ts";
import { Sealer } from "../db/sealer.ts";
import type { Engine } from "../engine/engine.ts";
import { backOff, MAX_ATTEMPTS } from "../outbox/outbox.ts";
import { hookBody } from "./body.ts";
import { post } from "./post.ts";

export type Delivery = Selectable<HookDeliveryRow>;

/** So much of what the other side says is kept (characters). */
const KEPT_SAID = 2_000;
/** How many go to one system at once. */
const AT_ONCE = 2;

const secretName = (hookId: string) => `hook:${hookId}`;

/** A secret as Standard Webhooks writes it. */
export const newSecret = (): string =>
  `whsec_${Buffer.from(crypto.getRandomValues(new Uint8Array(24))).toString("base64")}`;

/** What another system calls a thing, where its answer says so. */
function idIn(said: string): string | null {
  try {
    const { id } = JSON.parse(said) as { id?: unknown };
    return typeof id === "string" || typeof id === "number" ? String(id).slice(0, 200) : null;
  } catch {
    return null;
  }
}

/**
 * Tells other systems what happened: signed by Standard Webhooks, queued in the transaction of what it tells, delivered at
 * least once under one id, tried again with growing pauses, and visible. A system that is down holds up no other.
 */
export class Hooks {
  readonly #desk: Engine;
  readonly #mayBeInside: () => boolean;
  readonly #sealer: Sealer;
  readonly #flying = new Map<string, string>();
  #quiet: (() => void)[] = [];
  #handle: NodeJS.Timeout | null = null;
  #stopped = true;

  /** `mayBeInside`: whether addresses of this house's own network may be told, as in rehearsal. */
  constructor(desk: Engine, data: string, mayBeInside: () => boolean) {
    this.#desk = desk;
    this.#mayBeInside = mayBeInside;
    this.#sealer = new Sealer(data === ":memory:" ? null : data);
    desk.onTold((told, lead, at) => {
      this.queue(told, lead, at);
    });
  }

  get #kept(): KeptValues {
    return this.#desk.kept;
  }

  start(): void {
    this.#stopped = false;
    this.kick();
  }

  stop(): void {
    this.#stopped = true;
    if (this.#handle) clearTimeout(this.#handle);
    this.#settle();
  }

  /** Whether a system has a secret to check us by. */
  hasSecret(hookId: string): boolean {
    return this.#kept.secret(secretName(hookId)) !== null;
  }

  keepSecret(hookId: string, secret: string): void {
    this.#kept.keepSecret(secretName(hookId), this.#sealer.seal(secret));
  }

  /** Queue what happened for whoever wants to hear of it, inside its transaction. Gives how many are told. */
  queue(told: readonly Told[], lead: Lead | null, at: number): number {
    let queued = 0;
    const { setup, looker } = this.#desk;
    for (const one of told) {
      const hooks = setup.policies.hooks.filter((h) => h.on && h.events.includes(one.event));
      if (hooks.length === 0) continue;
      const deal = one.dealId ? looker.book.record(one.dealId) : null;
      const about = { lead, deal: isDeal(deal) ? deal : null };
      const bodyJson = hookBody(setup, looker.book.record, one, about, at);
      for (const { id } of hooks) this.#insert(id, one.event, bodyJson, at, one.leadId, one.dealId);
      queued += hooks.length;
    }
    return queued;
  }

  #insert(
    hookId: string,
    event: string,
    bodyJson: string,
    at: number,
    leadId: string | null,
    dealId: string | null,
  ): string {
    const { sql, newId } = this.#desk;
    const id = newId("msg");
    sql.run(
      sql.q.insertInto("hookDeliveries").values({
        id,
        hookId,
        event,
        at,
        leadId,
        dealId,
        bodyJson,
        state: "queued",
        attempts: 0,
        nextAt: at,
        status: null,
        said: null,
        answeredAt: null,
      }),
    );
    return id;
  }

  /** Queue something of which a system hears by itself, and not for an event. */
  send(hookId: string, event: string, data: object): void {
    const now = this.#desk.clock.now();
    const body = { type: event, timestamp: new Date(now).toISOString(), data };
    this.#insert(hookId, event, JSON.stringify(body), now, null, null);
    this.kick();
  }

  /** Send a made-up delivery, to see whether the other side takes it. */
  test(hookId: string): string {
    const { setup, clock } = this.#desk;
    const now = clock.now();
    const type = setup.policies.hooks.find((h) => h.id === hookId)?.events[0] ?? Object.keys(HOOK_EVENTS)[0]!;
    const body = { type, timestamp: new Date(now).toISOString(), data: { test: true } };
    const id = this.#insert(hookId, type, JSON.stringify(body), now, null, null);
    this.kick();
    return id;
  }

  /** Put a delivery back in line: under its own id, so that whoever has it already can tell. */
  resend(id: string): boolean {
    const { sql, clock } = this.#desk;
    const changed = sql.run(
      sql.q
        .updateTable("hookDeliveries")
        .set({ state: "queued", attempts: 0, nextAt: clock.now() })
        .where("id", "=", id)
        .where("state", "!=", "queued"),
    );
    if (changed > 0) this.kick();
    return changed > 0;
  }

  delivery(id: string): Delivery | undefined {
    const { sql } = this.#desk;
    return sql.get(sql.q.selectFrom("hookDeliveries").selectAll().where("id", "=", id));
  }

  /** The newest deliveries, of one system or of all; of those about a deal alone when one is named. */
  deliveries(hookId: string | null, limit: number, dealId: string | null = null): Delivery[] {
    const { sql } = this.#desk;
    let all = sql.q
      .selectFrom("hookDeliveries")
      .selectAll()
      .orderBy("at", "desc")
      .orderBy("id", "desc")
      .limit(limit);
    if (hookId) all = all.where("hookId", "=", hookId);
    if (dealId) all = all.where("dealId", "=", dealId);
    return sql.all(all);
  }

  /** Something may be due: look at once. */
  kick(): void {
    if (this.#stopped) return;
    if (this.#handle) clearTimeout(this.#handle);
    this.#handle = setTimeout(() => this.kick(), 1_000);
    this.#handle.unref();
    for (const row of this.#due()) void this.#deliver(row);
    if (this.#flying.size === 0) this.#settle();
  }

  /** Resolves when everything due by the clock has been tried. */
  async drained(): Promise<void> {
    while (!this.#stopped && (this.#flying.size > 0 || this.#due().length > 0)) {
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

  #due(): Delivery[] {
    const { sql, clock } = this.#desk;
    const rows = sql.all(
      sql.q
        .selectFrom("hookDeliveries")
        .selectAll()
        .where("state", "=", raw.lit("queued"))
        .where("nextAt", "<=", clock.now())
        .orderBy("nextAt")
        .limit(50),
    );
    const busy = new Map<string, number>();
    for (const hookId of this.#flying.values()) busy.set(hookId, (busy.get(hookId) ?? 0) + 1);
    return rows.filter(({ id, hookId }) => {
      if (this.#flying.has(id) || (busy.get(hookId) ?? 0) >= AT_ONCE) return false;
      busy.set(hookId, (busy.get(hookId) ?? 0) + 1);
      return true;
    });
  }

  async #deliver(row: Delivery): Promise<void> {
    this.#flying.set(row.id, row.hookId);
    const hook = this.#desk.setup.policies.hooks.find((h) => h.id === row.hookId);
    try {
      if (!hook?.on) throw new GivenUp("This system is told no more.");
      const { status, said } = await post(hook.url, this.#headers(row), row.bodyJson, {
        mayBeInside: this.#mayBeInside(),
      });
      this.#write(row, status, said, status >= 200 && status < 300);
      if (status >= 200 && status < 300) this.#learn(row, hook.name, said);
    } catch (error) {
      const said = error instanceof Error ? error.message : String(error);
      this.#write(row, null, said, false, error instanceof GivenUp);
    } finally {
      this.#flying.delete(row.id);
      if (this.#stopped) this.#settle();
      else this.kick();
    }
  }

  /** Signed as it leaves: the time it is signed for is the world's, and not that of a rehearsal. */
  #headers({ id, hookId, bodyJson }: Delivery): Record<string, string> {
    const sealed = this.#kept.secret(secretName(hookId));
    const secret = sealed && this.#sealer.open(sealed);
    if (!secret) throw new GivenUp("It has no secret to sign with. Enter one under Set-up, Other systems.");
    const at = new Date();
    return {
      "webhook-id": id,
      "webhook-timestamp": String(Math.floor(at.getTime() / 1000)),
      "webhook-signature": new Webhook(secret).sign(id, at, bodyJson),
    };
  }

  #write(row: Delivery, status: number | null, said: string, isDone: boolean, forGood = false): void {
    const { sql, clock, log, feed } = this.#desk;
    const now = clock.now();
    const attempts = row.attempts + 1;
    const state = isDone ? "delivered" : forGood || attempts >= MAX_ATTEMPTS ? "dead" : "queued";
    try {
      sql.run(
        sql.q
          .updateTable("hookDeliveries")
          .set({
            state,
            attempts,
            status,
            said: said.slice(0, KEPT_SAID),
            answeredAt: now,
            nextAt: state === "queued" ? now + backOff(attempts, Math.random()) : row.nextAt,
          })
          .where("id", "=", row.id),
      );
    } catch (error) {
      // It is due still, and goes again under its own id.
      log.error({ err: error, deliveryId: row.id }, "a delivery could not be recorded");
    }
    if (!isDone)
      log.warn({ deliveryId: row.id, status, attempts, said: said.slice(0, 200) }, "a webhook was not taken");
    feed.publish({ n: 0, leadId: null, kinds: ["hooks"] });
  }

  /** What the other side calls the deal is kept with it. */
  #learn(row: Delivery, hook: string, said: string): void {
    const as = idIn(said);
    const deal = row.dealId ? this.#desk.looker.book.record(row.dealId) : null;
    if (!as || !isDeal(deal) || deal.gone || deal.theirs[hook] === as) return;
    this.#desk.actBook(null, (world) => {
      const book = new BookDraft(world, { kind: "desk" }, world.id("act"));
      book.add(deal.id, "known-there", { hook, as });
      return { ok: true, plan: { actId: book.actId, book: book.changes, told: [], lead: null } };
    });
  }
}

/** It is not tried again: no trying would help. */
class GivenUp extends Error {}
