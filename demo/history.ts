import { writeFileSync } from "node:fs";
import { join } from "node:path";
import pino from "pino";
import { pass, take } from "../core/desk/hand-off.ts";
import { clicked, hearFrom } from "../core/desk/hear.ts";
import { addNote } from "../core/desk/notes.ts";
import { park } from "../core/desk/park.ts";
import { close } from "../core/desk/stage.ts";
import { logTry, setNextStep } from "../core/desk/work.ts";
import type { Lead } from "../core/lead/lead.ts";
import { calendarAround, presence } from "../core/policy/people.ts";
import { personOf } from "../core/policy/setup.ts";
import { isOpen } from "../core/time/calendar.ts";
import { localDate } from "../core/time/words.ts";
import type { OutChannel, Parcel } from "../server/channels/channel.ts";
import { MovableClock } from "../server/clock.ts";
import { type Desk, openDesk } from "../server/desk.ts";
import { idMaker } from "../server/ids.ts";
import { Chance } from "./chance.ts";
import { followUp } from "./following.ts";
import { type Inquirer, inquirer, type ProductKey, payload, phoneBook } from "./inquirers.ts";
import { keepLists } from "./lists.ts";
import { MORNING, playMorning } from "./morning.ts";
import { withRequirements } from "./qualifying.ts";
import { PACE, REPLIES, RHYTHM } from "./rhythm.ts";
import { sell } from "./selling.ts";
import { keepSpend } from "./spend.ts";
import { DESK_ZONE, tarnholt } from "./tarnholt.ts";

/** When the demo's history ends and its day begins. */
export const DEMO_NOW = Date.parse("2026-03-04T09:40:00-07:00");
const DAYS = 60;
const DAY = 86_400_000;
const MINUTE = 60_000;
const SEED = 20_260_304;

/** Badly answered stretches, as local dates: a flu week, and a Monday after the show. */
const SLOW = new Set(["2026-01-20", "2026-01-21", "2026-01-22", "2026-02-09", "2026-02-10"]);

/** Why leads are parked, and what some write when they come back. */
const LATER = [
  "Builds next spring",
  "Moves house first",
  "Saves for it until autumn",
  "Waits for the permit",
];
const BACK = ["We are ready now", "Can we still get the spring price?", "The permit is here. Call me?"];

const NOTES = [
  "Wants to measure the deck first.",
  "Twins start school in autumn, call before eight.",
  "Electrician comes next week.",
  "Husband decides, call when both are home.",
  "Asked for snow load papers.",
];

interface KeptParcel extends Parcel {
  readonly at: number;
}

/** Drives a real desk through sixty days with a moved clock; nothing is written past the engine. */
class History {
  readonly #agenda: { at: number; run: () => Promise<void> | void }[] = [];
  readonly #chance = new Chance(SEED);
  /** What becomes of parked leads has a chance of its own, so that it moves nothing else. */
  readonly #parking = new Chance(SEED + 2);
  readonly #phoneIn = phoneBook();
  readonly #people: Inquirer[] = [];
  readonly kept: KeptParcel[] = [];
  readonly clock: MovableClock;
  desk!: Desk;
  inquiries = 0;
  #submissions = 0;

  constructor(readonly start: number) {
    this.clock = new MovableClock(start, { frozen: true });
  }

  async open(data: string): Promise<void> {
    const keep: OutChannel = {
      deliver: async (parcel) => {
        this.kept.push({ ...parcel, at: this.clock.now() });
        if (this.kept.length > 400) this.kept.splice(0, 200);
      },
      close: async () => {},
    };
    const chance = new Chance(SEED + 1);
    this.desk = await openDesk({
      data,
      clock: this.clock,
      setup: withRequirements(tarnholt),
      channels: { email: keep, text: keep, chat: keep },
      url: "http://127.0.0.1:4321",
      log: pino({ level: "silent" }),
      durable: false,
      makeId: idMaker(this.clock, () =>
        Math.floor(chance.next() * 36 ** 7)
          .toString(36)
          .padStart(7, "0"),
      ),
      chance: () => chance.next(),
    });
    this.desk.outbox.start();
    followUp(
      {
        desk: this.desk,
        at: (when, run) => this.at(when, run),
        now: () => this.clock.now(),
        callAt: (when, leadId, personId) => this.at(when, () => this.#call(leadId, personId)),
      },
      new Chance(SEED + 3),
    );
    sell(
      { desk: this.desk, at: (when, run) => this.at(when, run), now: () => this.clock.now() },
      new Chance(SEED + 4),
    );
    this.desk.feed.listen(({ leadId, kinds }) => {
      if (leadId && (kinds.includes("offered") || kinds.includes("given"))) this.#handed(leadId);
    });
  }

  /** Do something at a moment; what is planned for the same moment keeps its order. */
  at(when: number, run: () => Promise<void> | void): void {
    let low = 0;
    let high = this.#agenda.length;
    while (low < high) {
      const mid = (low + high) >>> 1;
      if (this.#agenda[mid]!.at <= when) low = mid + 1;
      else high = mid;
    }
    this.#agenda.splice(low, 0, { at: when, run });
  }

  /** Plan the arrivals of all days. */
  plan(until: number): void {
    for (let day = this.start; day < until; day += DAY) {
      const weekday = new Date(day).getUTCDay();
      for (const { key, perDay, weekend, hours, products } of RHYTHM) {
        const mean = perDay * (weekday === 0 || weekday === 6 ? weekend : 1);
        // A Poisson count by waiting times.
        for (let t = this.#chance.wait(1 / mean); t < 1; t += this.#chance.wait(1 / mean)) {
          const when =
            day + Number(this.#chance.weighted(hours)) * 60 * MINUTE + this.#chance.next() * 60 * MINUTE;
          if (when < until)
            this.at(when, () =>
              this.#arrive(key, this.#chance.weighted(products as Record<ProductKey, number>)),
            );
        }
      }
    }
  }

  /** Run everything planned until then, and every timer between. */
  async run(until: number): Promise<void> {
    while (this.#agenda[0] && this.#agenda[0].at <= until) {
      const { at, run } = this.#agenda.shift()!;
      await this.#moveTo(at);
      await run();
    }
    await this.#moveTo(until);
    await this.desk.outbox.drained();
  }

  async #moveTo(at: number): Promise<void> {
    const { timers, outbox } = this.desk;
    const { roster } = this.desk;
    for (
      let due = Math.min(timers.nextDue, roster.nextDue);
      due <= at;
      due = Math.min(timers.nextDue, roster.nextDue)
    ) {
      this.clock.hold(Math.max(this.clock.now(), due));
      if (roster.nextDue <= due) roster.run();
      if (timers.nextDue <= this.clock.now()) timers.runDue();
    }
    this.clock.hold(Math.max(this.clock.now(), Math.floor(at)));
    if (this.#chance.hits(0.2)) await outbox.drained();
  }

  async submit(key: string, fields: Record<string, unknown>): Promise<string | null> {
    const source = tarnholt.sources.find((s) => s.key === key)!;
    const raw = Buffer.from(JSON.stringify(fields));
    const receipt = await this.desk.intake.submit(source, {
      contentType: "application/json",
      headers: {},
      raw,
    });
    this.inquiries++;
    return receipt.leadId;
  }

  async #arrive(key: string, product: ProductKey): Promise<void> {
    const chance = this.#chance;
    const again = this.#people.length > 40 && chance.hits(0.06);
    const who = again
      ? this.#people[this.#people.length - 1 - Math.floor(chance.next() * 40)]!
      : inquirer(chance, this.#people.length, product === "lodge" || chance.hits(0.05), this.#phoneIn);
    if (!again) this.#people.push(who);
    const fields = payload(chance, key, product, who, `sub-${++this.#submissions}`);
    // Now and then a form arrives that nobody could be reached by.
    const broken = key === "plan-your-sauna" && chance.hits(0.025);
    const unreachable = chance.pick([
      { phone: "n/a", email: "none" },
      { phone: "call the office", email: "" },
      { phone: "", email: "no thanks" },
      { phone: "123", email: "me@home" },
    ]);
    const leadId = await this.submit(key, broken ? { ...fields, ...unreachable } : fields);
    const lead = leadId ? this.#lead(leadId) : null;
    // Whoever has somebody that wrote or called again gets back to them.
    if (lead?.ownerId && lead.replyWaiting !== null) this.#callSoon(lead.id, lead.ownerId, 6 * MINUTE);
    if (leadId && chance.hits(0.1))
      this.at(this.clock.now() + chance.wait(20 * MINUTE), () => this.#reply(leadId));
  }

  /** Not now, but perhaps later: the lead is parked, and some come back on their own. */
  #park(leadId: string, personId: string): void {
    const chance = this.#parking;
    this.desk.act(leadId, (world) => park(world, personId, chance.pick(LATER), "sp_seasons"));
    if (!chance.hits(0.35)) return;
    this.at(this.clock.now() + DAY + chance.wait(9 * DAY), () => {
      const lead = this.#lead(leadId);
      if (!lead.parked) return;
      const from = lead.phones[0];
      const body = chance.pick(BACK);
      if (from && chance.hits(0.6))
        this.desk.act(leadId, (world) => hearFrom(world, { channel: "text", from, subject: null, body }));
      else
        this.desk.act(leadId, (world) =>
          clicked(world, "msg_0", "https://www.tarnholt.example/barrel-saunas"),
        );
    });
  }

  #lead(id: string): Lead {
    return this.desk.look(id).lead!;
  }

  #reply(leadId: string): void {
    const from = this.#lead(leadId).phones[0];
    if (!from || this.#lead(leadId).closed || this.#lead(leadId).parked) return;
    this.desk.act(leadId, (world) =>
      hearFrom(world, { channel: "text", from, subject: null, body: this.#chance.pick(REPLIES) }),
    );
    const owner = this.#lead(leadId).ownerId;
    if (owner) this.#callSoon(leadId, owner, 6 * MINUTE);
  }

  /** Somebody has been offered or given a lead: they look after a while, and most of the time take it. */
  #handed(leadId: string): void {
    const lead = this.#lead(leadId);
    if (MORNING.has(lead.name ?? "")) return;
    const now = this.clock.now();
    if (lead.handOff?.state === "taken") {
      if (lead.ownerId) this.#callSoon(leadId, lead.ownerId, 4 * MINUTE);
      return;
    }
    const personId = lead.handOff!.to[0]!;
    const handOffId = lead.handOff!.id;
    const slow = SLOW.has(localDate(now, DESK_ZONE)) ? 5 : 1;
    const opens = isOpen(calendarAround(tarnholt.policies.desk, now), now)
      ? now
      : lead.handOff!.until! - 2 * MINUTE;
    this.at(opens + this.#chance.wait((PACE[personId] ?? 70) * 1000 * slow), () => {
      if (this.#lead(leadId).handOff?.id !== handOffId) return;
      if (this.#chance.hits(0.06)) {
        this.desk.act(leadId, (world) =>
          pass(world, personId, this.#chance.pick(tarnholt.policies.passReasons)),
        );
        return;
      }
      this.desk.act(leadId, (world) => take(world, personId));
      this.#callSoon(leadId, personId, 75_000 * slow);
    });
  }

  #callSoon(leadId: string, personId: string, mean: number): void {
    this.at(this.clock.now() + 20_000 + this.#chance.wait(mean), () => this.#call(leadId, personId));
  }

  #call(leadId: string, personId: string): void {
    const chance = this.#chance;
    const now = this.clock.now();
    const lead = this.#lead(leadId);
    if (lead.closed || lead.parked || lead.lastTryAt === now || (lead.ownerId && lead.ownerId !== personId))
      return;
    const person = personOf(tarnholt, personId)!;
    if (!presence(person, now).onDuty) {
      this.at(now + 30 * MINUTE, () => this.#call(leadId, personId));
      return;
    }
    const outcome = chance.weighted<string>(
      lead.reached
        ? { reached: 6, voicemail: 3, "no-answer": 2 }
        : { reached: 36, voicemail: 34, "no-answer": 20, busy: 6, "wrong-number": 3 },
    );
    const note = outcome === "reached" && chance.hits(0.4) ? chance.pick(NOTES) : null;
    this.desk.act(leadId, (world) => logTry(world, { personId, channel: "call", outcome, note }));
    this.#afterCall(leadId, personId);
  }

  #afterCall(leadId: string, personId: string): void {
    const chance = this.#chance;
    const lead = this.#lead(leadId);
    const shut = (reason: string) => {
      this.desk.act(leadId, (world) => close(world, personId, reason));
    };
    if (lead.customer) return;
    if (lead.tries >= 9 && !lead.reached) {
      shut("Never reached");
      return;
    }
    if (lead.reached && lead.tries >= 2 && chance.hits(0.45)) {
      const reason = chance.weighted({
        "Bought elsewhere": 3,
        "No fit": 2,
        "Not interested now": 4,
        "Not a real inquiry": 1,
      });
      if (reason === "Not interested now" && this.#parking.hits(0.6)) this.#park(leadId, personId);
      else shut(reason);
      return;
    }
    if (!lead.reached && chance.hits(0.04)) {
      shut("Not a real inquiry");
      return;
    }
    if (lead.reached && chance.hits(0.25)) {
      const dueAt = this.clock.now() + Math.ceil(chance.wait(12) + 3) * DAY;
      this.desk.act(leadId, (world) =>
        setNextStep(world, personId, { kind: "call", note: "Call when they have decided", dueAt }),
      );
    }
    if (chance.hits(0.05)) this.desk.act(leadId, (world) => addNote(world, personId, chance.pick(NOTES)));
    const step = this.#lead(leadId).nextStep;
    // Most next steps are kept, some late, a few forgotten for a day.
    // Those of cadences are made by whoever follows them.
    if (step && !step.touch)
      this.at(step.dueAt + chance.wait(chance.hits(0.08) ? DAY : 50 * MINUTE), () =>
        this.#call(leadId, personId),
      );
  }
}

/**
 * Make the demo's desk in `data`: about 1,500 inquiries over 60 days up to a believable morning, and what the
 * outside has received last. Returns how many inquiries came in and what time it is.
 */
export async function makeHistory(data: string): Promise<{ inquiries: number; now: number }> {
  const start = Date.parse(`${localDate(DEMO_NOW - DAYS * DAY, DESK_ZONE)}T00:00:00-07:00`);
  const history = new History(start);
  await history.open(data);
  history.plan(DEMO_NOW - 20 * MINUTE);
  await history.run(DEMO_NOW - 20 * MINUTE);
  playMorning(history, DEMO_NOW);
  await history.run(DEMO_NOW);
  const { desk, kept, inquiries } = history;
  keepLists(desk);
  keepSpend(desk);
  desk.letters.plan();
  // What was written is to be found from the first moment.
  while (desk.search.index.follow(10_000));
  desk.kept.setCounter("rehearsal-ahead-ms", DEMO_NOW - Date.now());
  const lines = kept.slice(-150).map((m, i) => {
    const { key, channel, toAddress: to, fromAddress: from, subject, body, url } = m;
    return JSON.stringify({
      key,
      id: `out_${i + 1}`,
      at: m.at,
      channel,
      to,
      from,
      ...(subject && { subject }),
      body,
      ...(url && { url }),
    });
  });
  writeFileSync(join(data, "outside.jsonl"), `${lines.join("\n")}\n`);
  await desk.close();
  return { inquiries, now: DEMO_NOW };
}

export type { History };
