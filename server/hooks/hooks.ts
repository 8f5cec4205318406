import { sql as raw, type SelectQueryBuilder } from "kysely";
import { BookDraft } from "../../core/book/draft.ts";
import { isDeal } from "../../core/book/records.ts";
import { evaluate } from "../../core/condition/condition.ts";
import type { Told } from "../../core/desk/plan.ts";
import { entryOf, type LeadEvent } from "../../core/lead/events.ts";
import { factsOf } from "../../core/lead/fields.ts";
import type { Lead } from "../../core/lead/lead.ts";
import { HOOK_EVENTS, type Hook } from "../../core/policy/hooks.ts";
import type { Schema } from "../db/schema.ts";
import { Sealer } from "../db/sealer.ts";
import type { Engine } from "../engine/engine.ts";
import { type About, hookBody } from "./body.ts";
import { Deliverer, type Delivery, GivenUp } from "./deliverer.ts";
import { HookSecrets } from "./secrets.ts";

export type { Delivery } from "./deliverer.ts";
export { newSecret } from "./secrets.ts";

/** Deliveries that were put aside are told of for so long (ms). */
const TOLD_FOR = 7 * 86_400_000;

/** Which deliveries are asked for. */
export interface DeliveryFilter {
  readonly hookId?: string | null;
  readonly dealId?: string | null;
  readonly state?: Delivery["state"] | null;
  /** From and before when they were queued (epoch ms). */
  readonly from?: number | null;
  readonly before?: number | null;
}

/** What another system calls a thing, where its answer says so. */
function idIn(said: string): string | null {
  try {
    const { id } = JSON.parse(said) as { id?: unknown };
    return typeof id === "string" || typeof id === "number" ? String(id).slice(0, 200) : null;
  } catch {
    return null;
  }
}

/** Whether a system hears of an event by what is true of its kind. */
function hears({ trait = "none" }: Hook, event: LeadEvent): boolean {
  if (trait === "none") return false;
  const entry = entryOf(event);
  return trait === "all" ? !entry.unshown?.(event.data) : entry.talk === true;
}

/**
 * Tells other systems what happened: signed by Standard Webhooks, queued in the transaction of what it tells, delivered at
 * least once under one id, in order for each lead, and visible. A system that is down holds up no other.
 */
export class Hooks {
  readonly #desk: Engine;
  readonly secrets: HookSecrets;
  readonly #deliverer: Deliverer;
  readonly #insert;

  /** `mayBeInside`: whether addresses of this house's own network may be told whatever a hook says, as in rehearsal. */
  constructor(desk: Engine, data: string, mayBeInside: () => boolean) {
    this.#desk = desk;
    const sealer = new Sealer(data === ":memory:" ? null : data);
    this.secrets = new HookSecrets(desk.kept, sealer, () => desk.clock.now());
    this.#deliverer = new Deliverer(desk, {
      headers: (row) => this.#headers(row),
      mayBeInside: (hook) => hook.inside === true || mayBeInside(),
      taken: (row, hook, said) => this.#learn(row, hook.name, said),
    });
    this.#insert = desk.sql.inserter("hookDeliveries", [
      ...(["id", "hookId", "event", "at", "leadId", "dealId", "bodyJson", "state", "attempts"] as const),
      ...(["nextAt", "status", "said", "answeredAt", "lane", "since"] as const),
    ]);
    desk.onTold((told, lead, at, events) => {
      this.queue(told, lead, at, events);
    });
  }

  start(): void {
    this.#deliverer.start();
  }

  stop(): void {
    this.#deliverer.stop();
  }

  kick(): void {
    this.#deliverer.kick();
  }

  /** Resolves when everything due by the clock has been tried. */
  drained(): Promise<void> {
    return this.#deliverer.drained();
  }

  /** Queue what happened for whoever wants to hear of it, inside its transaction. Gives how many deliveries are made. */
  queue(told: readonly Told[], lead: Lead | null, at: number, events: readonly LeadEvent[] = []): number {
    const { setup, looker } = this.#desk;
    let queued = 0;
    for (const hook of setup.policies.hooks) {
      if (!hook.on) continue;
      const named = told.filter((t) => hook.events.includes(t.event));
      const heard = events.filter((e) => hears(hook, e));
      if (named.length + heard.length === 0) continue;
      if (lead?.test || (lead && hook.when && !evaluate(hook.when, factsOf(lead, setup, at)))) continue;
      for (const { event, leadId, dealId } of named) {
        const deal = dealId ? looker.book.record(dealId) : null;
        const about = { lead, deal: isDeal(deal) ? deal : null, event: null };
        this.#put(hook.id, event, this.#body(hook, event, about, at), at, leadId, dealId);
      }
      for (const event of heard) {
        const type = `event.${event.kind}`;
        this.#put(
          hook.id,
          type,
          this.#body(hook, type, { lead, deal: null, event }, at),
          at,
          event.leadId,
          null,
        );
      }
      queued += named.length + heard.length;
    }
    return queued;
  }

  #body(hook: Hook, type: string, about: About, at: number): string {
    const { setup, looker } = this.#desk;
    return hookBody(setup, looker.book.record, hook.sends, type, about, at);
  }

  #put(
    hookId: string,
    event: string,
    bodyJson: string,
    at: number,
    leadId: string | null,
    dealId: string | null,
  ): string {
    const id = this.#desk.newId("msg");
    const lane = leadId ?? dealId ?? id;
    const row = { id, hookId, event, at, leadId, dealId, bodyJson, lane, since: at, nextAt: at };
    this.#insert({ ...row, state: "queued", attempts: 0, status: null, said: null, answeredAt: null });
    return id;
  }

  /** Queue something of which a system hears by itself, and not for an event. */
  send(hookId: string, event: string, data: object): void {
    const now = this.#desk.clock.now();
    const body = { type: event, timestamp: new Date(now).toISOString(), data };
    this.#put(hookId, event, JSON.stringify(body), now, null, null);
    this.kick();
  }

  /** Send a made-up delivery, to see whether the other side takes it. */
  test(hookId: string): string {
    const { setup, clock } = this.#desk;
    const now = clock.now();
    const type = setup.policies.hooks.find((h) => h.id === hookId)?.events[0] ?? Object.keys(HOOK_EVENTS)[0]!;
    const body = { type, timestamp: new Date(now).toISOString(), data: { test: true } };
    const id = this.#put(hookId, type, JSON.stringify(body), now, null, null);
    this.kick();
    return id;
  }

  /** Put a delivery back in line: under its own id, so that whoever has it already can tell. */
  resend(id: string): boolean {
    return this.#resendAll((q) => q.where("id", "=", id)) > 0;
  }

  /** Put all of a system's deliveries of a span back in line, in their order; of one state alone where it is named. Gives how many. */
  resendSpan(hookId: string, { from, before, state }: DeliveryFilter): number {
    return this.#resendAll((q) => {
      let all = q.where("hookId", "=", hookId);
      if (from) all = all.where("at", ">=", from);
      if (before) all = all.where("at", "<", before);
      return state ? all.where("state", "=", state) : all;
    });
  }

  #resendAll(which: (q: SelectQueryBuilder<Schema, "hookDeliveries", { id: string }>) => typeof q): number {
    const { sql, clock } = this.#desk;
    const now = clock.now();
    const ids = which(sql.q.selectFrom("hookDeliveries").select("id")).where("state", "!=", "queued");
    const changed = sql.run(
      sql.q
        .updateTable("hookDeliveries")
        .set({ state: "queued", attempts: 0, nextAt: now, since: now })
        .where("id", "in", ids),
    );
    if (changed > 0) this.kick();
    return changed;
  }

  delivery(id: string): Delivery | undefined {
    const { sql } = this.#desk;
    return sql.get(sql.q.selectFrom("hookDeliveries").selectAll().where("id", "=", id));
  }

  /** The newest deliveries that fit; those after the one that `cursor` names, where it is given. */
  deliveries(asked: DeliveryFilter, limit: number, cursor: string | null = null): Delivery[] {
    const { sql } = this.#desk;
    let all = sql.q
      .selectFrom("hookDeliveries")
      .selectAll()
      .orderBy("at", "desc")
      .orderBy("id", "desc")
      .limit(limit);
    const { hookId, dealId, state, from, before } = asked;
    if (hookId) all = all.where("hookId", "=", hookId);
    if (dealId) all = all.where("dealId", "=", dealId);
    if (state) all = all.where("state", "=", state);
    if (from) all = all.where("at", ">=", from);
    if (before) all = all.where("at", "<", before);
    const last = cursor ? this.delivery(cursor) : undefined;
    if (last) all = all.where(raw<boolean>`(at, id) < (${last.at}, ${last.id})`);
    return sql.all(all);
  }

  /** How many wait, and how many were put aside in the last week, for each system that has any. */
  standing(): ReadonlyMap<string, { readonly waiting: number; readonly aside: number }> {
    const { sql, clock } = this.#desk;
    const count = (state: "queued" | "dead") => {
      const all = sql.q
        .selectFrom("hookDeliveries")
        .select(["hookId", (eb) => eb.fn.countAll<number>().as("n")])
        .where("state", "=", raw.lit(state))
        .groupBy("hookId");
      return sql.all(state === "dead" ? all.where("answeredAt", ">", clock.now() - TOLD_FOR) : all);
    };
    const standing = new Map<string, { waiting: number; aside: number }>();
    const of = (id: string) => {
      const known = standing.get(id) ?? { waiting: 0, aside: 0 };
      standing.set(id, known);
      return known;
    };
    for (const { hookId, n } of count("queued")) of(hookId).waiting = Number(n);
    for (const { hookId, n } of count("dead")) of(hookId).aside = Number(n);
    return standing;
  }

  /** Signed as it leaves: the time it is signed for is the world's, and not that of a rehearsal. */
  #headers({ id, hookId, bodyJson }: Delivery): Record<string, string> {
    const at = new Date();
    const signature = this.secrets.sign(hookId, id, at, bodyJson);
    if (!signature)
      throw new GivenUp("It has no secret to sign with. Enter one under Set-up, Other systems.");
    return {
      "webhook-id": id,
      "webhook-timestamp": String(Math.floor(at.getTime() / 1000)),
      "webhook-signature": signature,
    };
  }

  /** What the other side calls the deal is kept with it. */
  #learn(row: Delivery, hook: string, said: string): void {
    const as = row.dealId ? idIn(said) : null;
    const deal = row.dealId ? this.#desk.looker.book.record(row.dealId) : null;
    if (!as || !isDeal(deal) || deal.gone || deal.theirs[hook] === as) return;
    this.#desk.actBook(null, (world) => {
      const book = new BookDraft(world, { kind: "desk" }, world.id("act"));
      book.add(deal.id, "known-there", { hook, as });
      return { ok: true, plan: { actId: book.actId, book: book.changes, told: [], lead: null } };
    });
  }
}
