import { pass, take } from "../core/desk/hand-off.ts";
import type { Plan } from "../core/desk/plan.ts";
import { logTry } from "../core/desk/work.ts";
import type { Desk } from "../server/desk.ts";
import type { Traffic, TrafficState, World } from "../server/rehearsal/traffic.ts";
import { Chance } from "./chance.ts";
import { inquirer, type ProductKey, payload, phoneBook } from "./inquirers.ts";
import { hourThere, PACE, REPLIES, RHYTHM } from "./rhythm.ts";

/** How often is looked whether something is due (ms). */
const TICK = 250;
const MINUTE = 60_000;
/** What is due so much later than it should be (ms) is let be: time was moved, and people did not sit there. */
const STALE = 10 * MINUTE;
/** How people take offers, as in the record: the rest are forgotten. */
const TAKES = 0.82;
const PASSES = 0.08;
/** How soon after taking it somebody calls (ms, in the middle), and how often nobody does. */
const CALLS_AFTER = 2.5 * MINUTE;
const FORGETS_TO_CALL = 0.12;
/** How often somebody writes back to the first text, and how soon (ms). */
const WRITES_BACK = 0.15;
const WRITES_AFTER = 90_000;
/** What a call comes to. */
const OUTCOMES = { reached: 42, voicemail: 30, "no-answer": 25, busy: 3 };

interface Due {
  readonly at: number;
  readonly run: () => unknown;
}

/**
 * The day goes on by itself: people inquire in the rhythm of the hour, through the real ways in, and ours take, pass, call and
 * forget as they have in the record. It decides nothing for the desk; it acts as people outside and inside do.
 */
export class LiveTraffic implements Traffic {
  readonly #desk: Desk;
  readonly #world: World;
  readonly #chance: Chance;
  readonly #phoneIn = phoneBook();
  #perMinute = 0;
  #nextAt = Number.POSITIVE_INFINITY;
  #due: Due[] = [];
  #handle: NodeJS.Timeout | null = null;
  #n = 0;
  readonly #count = { arrived: 0, took: 0, passed: 0, forgot: 0, called: 0, wroteBack: 0 };

  constructor(desk: Desk, world: World, seed: number) {
    this.#desk = desk;
    this.#world = world;
    this.#chance = new Chance(seed);
    desk.onPlan((plan) => this.#react(plan));
  }

  get state(): TrafficState {
    return { perMinute: this.#perMinute, ...this.#count };
  }

  /** Have so many inquiries come in a minute, in the middle; 0 ends it, and what people had begun is let be. */
  set(perMinute: number): void {
    this.#perMinute = perMinute;
    if (this.#handle) clearInterval(this.#handle);
    this.#handle = null;
    this.#due = [];
    if (perMinute === 0) return;
    this.#plan();
    this.#handle = setInterval(() => this.tick(), TICK);
    this.#handle.unref();
  }

  stop(): void {
    this.set(0);
  }

  #plan(): void {
    this.#nextAt = this.#desk.clock.now() + this.#chance.wait(MINUTE / this.#perMinute);
  }

  /** Do what is due by the desk's clock. */
  tick(): void {
    const now = this.#desk.clock.now();
    const due = this.#due.filter((d) => d.at <= now);
    this.#due = this.#due.filter((d) => d.at > now);
    for (const { at, run } of due) if (now - at < STALE) this.#quietly(run);
    if (this.#nextAt > now || this.#perMinute === 0) return;
    this.#plan();
    this.#quietly(() => this.#arrive());
  }

  /** Whatever fails out there is no fault of the desk's: it is noted, and the day goes on. */
  #quietly(run: () => unknown): void {
    void (async () => run())().catch((err: unknown) =>
      this.#desk.log.warn({ err }, "live traffic could not do something"),
    );
  }

  #later(ms: number, run: () => unknown): void {
    if (this.#perMinute > 0) this.#due.push({ at: this.#desk.clock.now() + ms, run });
  }

  /** Somebody asks, by the way people use at this hour. */
  async #arrive(): Promise<void> {
    const chance = this.#chance;
    const hour = hourThere(this.#desk.clock.now());
    const weights = Object.fromEntries(
      RHYTHM.map(({ key, perDay, hours }) => {
        const all = Object.values(hours).reduce((sum, n) => sum + n, 0);
        const near = [hour - 1, hour, hour + 1].reduce((sum, h) => sum + (hours[h] ?? 0), 0);
        return [key, perDay * (0.05 + near / all)];
      }),
    );
    const key = chance.weighted(weights);
    const way = RHYTHM.find((r) => r.key === key)!;
    const product = chance.weighted(way.products as Record<ProductKey, number>);
    this.#n++;
    const submission = `live-${this.#desk.newId("in")}`;
    const who = inquirer(chance, 2_000 + this.#n, product === "lodge", this.#phoneIn);
    const fields = payload(chance, key, product, who, submission);
    this.#count.arrived++;
    await this.#world.send(key, fields);
  }

  /** What our people and the lead do about what has just happened. */
  #react({ leadId, after, events }: Plan): void {
    if (this.#perMinute === 0 || after.test) return;
    for (const event of events) {
      if (event.kind === "offered")
        for (const personId of event.data.to)
          this.#later(this.#chance.wait((PACE[personId] ?? 70) * 1_000), () =>
            this.#answer(leadId, personId),
          );
      if (event.kind === "taken") this.#callAfter(leadId, event.data.personId);
      if (event.kind === "given") this.#callAfter(leadId, event.data.to);
      const phone = after.phones[0];
      if (event.kind === "message-out" && event.data.auto && event.data.channel === "text" && phone)
        if (this.#chance.hits(WRITES_BACK))
          this.#later(this.#chance.wait(WRITES_AFTER), () => {
            this.#count.wroteBack++;
            return this.#world.text(phone, this.#chance.pick(REPLIES));
          });
    }
  }

  #answer(leadId: string, personId: string): void {
    const handOff = this.#desk.looker.lead(leadId)?.handOff;
    if (!handOff || handOff.state === "taken" || !handOff.to.includes(personId)) return;
    const drawn = this.#chance.next();
    if (drawn < TAKES) {
      if (this.#desk.act(leadId, (world) => take(world, personId)).ok) this.#count.took++;
    } else if (drawn < TAKES + PASSES) {
      const reason = this.#chance.pick(this.#desk.setup.policies.passReasons);
      if (this.#desk.act(leadId, (world) => pass(world, personId, reason)).ok) this.#count.passed++;
    } else this.#count.forgot++;
  }

  #callAfter(leadId: string, personId: string): void {
    if (this.#chance.hits(FORGETS_TO_CALL)) return;
    this.#later(this.#chance.wait(CALLS_AFTER), () => {
      const lead = this.#desk.looker.lead(leadId);
      if (lead?.ownerId !== personId || lead.closed) return;
      const outcome = this.#chance.weighted(OUTCOMES);
      const said = this.#desk.act(leadId, (world) =>
        logTry(world, { personId, channel: "call", outcome, note: null }),
      );
      if (said.ok) this.#count.called++;
    });
  }
}
