import { once } from "node:events";
import { createServer, type IncomingMessage } from "node:http";
import type { AddressInfo } from "node:net";
import { join } from "node:path";
import Database from "better-sqlite3";
import { Webhook } from "standardwebhooks";
import { Chance } from "../../demo/chance.ts";
import { inquirer, type ProductKey, payload, phoneBook } from "../../demo/inquirers.ts";
import { hourThere, PACE, REPLIES, RHYTHM } from "../../demo/rhythm.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { startGateway } from "../../standins/gateway.ts";
import { startMailbox } from "../../standins/mailbox.ts";
import { Outside } from "../../standins/outside.ts";
import { asPerson, client, type Running, startServer } from "./server.ts";

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
/** A Tuesday, six in the morning at the desk. */
export const SOAK_BEGINS = Date.parse("2026-03-03T13:00:00Z");
/** A sender that gets no answer tries again once the desk is up, so many times. */
const TRIES = 5;
/** Faults, each in the middle so often (minutes of the desk). */
const KILLED_EVERY = 40;
const DOWN_EVERY = 75;
const DOWN_FOR = 40;
const JUMPS_EVERY = 120;
/** Ours, in the middle: how they take offers, and how soon after taking one they call (minutes). */
const TAKES = 0.78;
const PASSES = 0.08;
const CALLS_AFTER = 3;
const FORGETS_TO_CALL = 0.12;
const OUTCOMES = { reached: 42, voicemail: 30, "no-answer": 25, busy: 3 };
const PARTS = ["email", "text", "chat", "hooks"] as const;
/** The sources whose deliveries carry an id of their sender's: what is sent again is known again. */
const WAYS = RHYTHM.filter(({ key }) => !/line$|mailbox$/.test(key) || key === "text-line");

/** An event as the feed for other systems tells it. */
interface Told {
  readonly id: string;
  readonly leadId: string;
  readonly kind: string;
  readonly at: string;
  readonly data: Record<string, unknown>;
}

/** What a soak was made of and saw. */
export interface Soaked {
  readonly seed: number;
  /** Every submission that was sent, by its sender's id, and what the desk said to it. */
  readonly sent: ReadonlyMap<string, { readonly inquiryId: string; readonly leadId: string | null }>;
  readonly kills: number;
  readonly jumps: number;
  readonly outages: number;
  /** What ours did. */
  readonly took: number;
  readonly called: number;
  /** The feed of events as another system read it, over all kills. */
  readonly feed: readonly Told[];
  /** What another system was told by webhook, as it came: the id of each delivery, its lead and its event. */
  readonly hooked: readonly { readonly id: string; readonly leadId: string; readonly eventId: string }[];
  readonly outside: Outside;
  /** Bytes held in memory, every quarter of an hour since the last kill. */
  readonly held: readonly number[];
  /** Statements that look through a whole table, and how SQLite says so. */
  readonly scanning: readonly (readonly [statement: string, scans: readonly string[]])[];
}

/** Another system: it answers once it has read, and is not there at times. */
async function receiver() {
  const told: { id: string; leadId: string; eventId: string }[] = [];
  let down = false;
  const server = createServer(async (request: IncomingMessage, response) => {
    if (down) return void response.socket?.destroy();
    let text = "";
    for await (const chunk of request) text += String(chunk);
    const { data } = JSON.parse(text) as { data: { lead: { id: string }; event: { id: string } } };
    told.push({ id: String(request.headers["webhook-id"]), leadId: data.lead.id, eventId: data.event.id });
    response.writeHead(200, { "content-type": "application/json" }).end("{}");
  });
  server.listen(0, "127.0.0.1");
  await once(server, "listening");
  const { port } = server.address() as AddressInfo;
  return {
    url: `http://127.0.0.1:${port}/`,
    told,
    setDown: (is: boolean) => {
      down = is;
    },
    close: () => new Promise<void>((done) => server.close(() => done())),
  };
}

/**
 * Hours of a busy desk with everything going wrong at times: people inquire in the demo's rhythm, so many times as often; ours take, pass, call
 * and forget; carriers, mail, chat and another system go away for a while; the desk is killed at any moment, with deliveries on their way; the
 * clock jumps, also back while it is off. Afterwards everything is up again, and the desk had time to catch up. Moments are drawn from `seed`.
 */
export async function soak(how: {
  readonly folder: string;
  readonly hours: number;
  /** So many times the demo's rate. */
  readonly rate: number;
  readonly seed: number;
}): Promise<Soaked> {
  const day = new Day(how);
  try {
    await day.open();
    for (let minute = 0; minute < how.hours * 60; minute++) await day.minute(minute);
    await day.recover();
    return day.seen();
  } finally {
    await day.close();
  }
}

class Day {
  readonly #how: Parameters<typeof soak>[0];
  readonly #chance: Chance;
  readonly #phoneIn = phoneBook();
  readonly #outside = new Outside(() => this.now);
  readonly #sent = new Map<string, { inquiryId: string; leadId: string | null }>();
  readonly #feed: Told[] = [];
  readonly #held: number[] = [];
  #scanning: Soaked["scanning"] = [];
  readonly #closing: (() => Promise<void>)[] = [];
  #system: Awaited<ReturnType<typeof receiver>> | null = null;
  #server: Running | null = null;
  #env: Record<string, string> = {};
  #after = "";
  #due: { at: number; run: () => Promise<unknown> }[] = [];
  #backAt = new Map<string, number>();
  #n = 0;
  #lastHeld = 0;
  #killedAt: number;
  /** Resolves when the desk is up. */
  #up: Promise<void> = Promise.resolve();
  readonly #count = { kills: 0, jumps: 0, outages: 0, took: 0, called: 0 };
  now = SOAK_BEGINS;

  constructor(how: Parameters<typeof soak>[0]) {
    this.#how = how;
    this.#chance = new Chance(how.seed);
    this.#killedAt = SOAK_BEGINS + this.#nextKill();
  }

  #nextKill(): number {
    return this.#chance.wait(KILLED_EVERY * MINUTE);
  }

  get #api() {
    return client(this.#server!.origin);
  }

  readonly #as = asPerson(() => this.#server!.origin);

  async open(): Promise<void> {
    const [gateway, mailbox, system] = await Promise.all([
      startGateway(this.#outside),
      startMailbox(this.#outside),
      receiver(),
    ]);
    this.#closing.push(gateway.close, mailbox.close, system.close);
    this.#system = system;
    this.#env = {
      KITEBELL_SMTP_URL: mailbox.url,
      KITEBELL_TEXT_URL: gateway.url,
      KITEBELL_CHAT_URL: gateway.url,
    };
    await this.#start();
    await this.#api.post("/rehearsal/clock", { to: new Date(SOAK_BEGINS).toISOString() });
    const { status } = await this.#api.post("/setup/hooks", {
      name: "Ledger",
      url: system.url,
      events: [],
      trait: "talk",
    });
    if (status !== 200) throw new Error(`The webhook was refused: ${status}`);
  }

  async #start(): Promise<void> {
    const loaded = (name: string) => ["--import", join(import.meta.dirname, name)];
    const node = ["--expose-gc", ...loaded("heap.mjs"), ...loaded("plans.mjs")];
    this.#server = await startServer(this.#how.folder, { env: this.#env, node });
  }

  async close(): Promise<void> {
    await this.#server?.stop("SIGKILL");
    for (const close of this.#closing) await close();
  }

  seen(): Soaked {
    return {
      seed: this.#how.seed,
      ...this.#count,
      sent: this.#sent,
      feed: this.#feed,
      hooked: this.#system!.told,
      outside: this.#outside,
      held: this.#held,
      scanning: this.#scanning,
    };
  }

  /** A minute that is lived through, the so-manieth: what a jump of the clock skips is none. */
  async minute(minute: number): Promise<void> {
    // In the last third it lives on, minute by minute: what it holds in memory is compared there.
    const mayBreak = minute < this.#how.hours * 40;
    this.#faults();
    const arrivals = this.#arrivals();
    // Killed while people send and ours work, not beside it.
    const isKilled = mayBreak && this.now >= this.#killedAt;
    const sending = arrivals.map((send) => send());
    if (isKilled) await this.#kill();
    await Promise.all(sending);
    await this.#read();
    const due = this.#due.filter((d) => d.at <= this.now);
    this.#due = this.#due.filter((d) => d.at > this.now);
    for (const { run } of due) await run();
    await this.#move(mayBreak ? this.#jump() : MINUTE);
    if (this.now - this.#lastHeld > HOUR / 4) await this.#weigh();
  }

  #jump(): number {
    if (!this.#chance.hits(1 / JUMPS_EVERY)) return MINUTE;
    this.#count.jumps++;
    return Math.round(this.#chance.next() * 2 * HOUR);
  }

  async #move(ms: number): Promise<void> {
    const { status, body } = await this.#api.post("/rehearsal/clock", {
      advance: `PT${Math.ceil(ms / 1_000)}S`,
    });
    if (status !== 200) throw new Error(`The clock was not moved: ${JSON.stringify(body)}`);
    this.now = Date.parse(body.now);
  }

  /** Parts of the world go away, and come back. */
  #faults(): void {
    for (const part of PARTS) {
      const backAt = this.#backAt.get(part);
      if (backAt !== undefined && backAt <= this.now) this.#set(part, false);
      else if (backAt === undefined && this.#chance.hits(1 / DOWN_EVERY / 2)) {
        this.#count.outages++;
        this.#set(part, true);
        this.#backAt.set(part, this.now + this.#chance.wait(DOWN_FOR * MINUTE));
      }
    }
  }

  #set(part: (typeof PARTS)[number], down: boolean): void {
    this.#backAt.delete(part);
    if (part === "hooks") this.#system!.setDown(down);
    else if (down) this.#outside.down.add(part);
    else this.#outside.down.delete(part);
  }

  /** As if the power had gone; sometimes the machine's clock has been set back meanwhile, by a quarter of an hour at most. */
  #kill(): Promise<void> {
    this.#count.kills++;
    this.#killedAt = this.now + this.#nextKill();
    this.#up = this.#again();
    return this.#up;
  }

  async #again(): Promise<void> {
    await new Promise((done) => setTimeout(done, this.#chance.next() * 30));
    await this.#server!.stop("SIGKILL");
    if (this.#chance.hits(0.4)) {
      this.#count.jumps++;
      const database = new Database(join(this.#how.folder, "kite-bell.db"));
      const back = Math.round(this.#chance.next() * 15 * MINUTE);
      database.prepare("update counters set value = value - ? where name = 'rehearsal-ahead-ms'").run(back);
      database.close();
    }
    await this.#start();
    this.#held.length = 0;
  }

  async #weigh(): Promise<void> {
    this.#lastHeld = this.now;
    this.#held.push(Number(await this.#ask("held")));
  }

  /** Ask the server's process, past its doors, what was loaded into it for that. */
  async #ask(what: "held" | "plans"): Promise<unknown> {
    const { process } = this.#server!;
    const told = once(process, "message");
    process.send(what);
    return (await told)[0];
  }

  /** Who inquires in this minute, each as a delivery that is sent until it is acknowledged. */
  #arrivals(): (() => Promise<void>)[] {
    const chance = this.#chance;
    const hour = hourThere(this.now);
    return WAYS.flatMap(({ key, perDay, hours, products }) => {
      const all = Object.values(hours).reduce((sum, n) => sum + n, 0);
      // At night somebody asks as well.
      const perMinute = (this.#how.rate * perDay * (0.02 + (hours[hour] ?? 0) / all)) / 60;
      const times = Math.floor(perMinute) + (chance.hits(perMinute % 1) ? 1 : 0);
      return Array.from({ length: times }, () => {
        const product = chance.weighted(products as Record<ProductKey, number>);
        const submission = `soak-${++this.#n}`;
        const who = inquirer(chance, 5_000 + this.#n, product === "lodge", this.#phoneIn);
        const fields = { ...payload(chance, key, product, who, submission), submission_id: submission };
        return () => this.#send(key, submission, JSON.stringify(fields));
      });
    });
  }

  /** Send as a real sender does, signed where the source asks for it, again and again until somebody says yes. */
  async #send(key: string, submission: string, body: string): Promise<void> {
    const source = tarnholt.sources.find((s) => s.key === key)!;
    for (let tries = 0; tries < TRIES; tries++) {
      try {
        const at = new Date();
        const response = await fetch(`${this.#server!.origin}/api/v1/intake/${key}`, {
          method: "POST",
          body,
          headers: {
            "content-type": "application/json",
            ...(source.signingSecret && {
              "webhook-id": submission,
              "webhook-timestamp": String(Math.floor(at.getTime() / 1000)),
              "webhook-signature": new Webhook(source.signingSecret).sign(submission, at, body),
            }),
          },
        });
        if (response.status < 300) {
          this.#sent.set(submission, (await response.json()) as { inquiryId: string; leadId: string | null });
          return;
        }
        if (response.status < 500)
          throw new Error(`${key} was refused: ${response.status} ${await response.text()}`);
      } catch (error) {
        // Killed with this on its way, or not up again yet.
        if (!(error instanceof TypeError) && !(error instanceof SyntaxError)) throw error;
      }
      await this.#up;
    }
    throw new Error(`${submission} found nobody in ${TRIES} tries.`);
  }

  /** Read on in the feed, as another system does, and have ours do what they do about it. */
  async #read(): Promise<void> {
    for (;;) {
      const query = this.#after && `&after=${encodeURIComponent(this.#after)}`;
      const { status, body } = await this.#api.get(`/events?limit=1000${query}`);
      if (status !== 200) throw new Error(`The feed said ${status}: ${JSON.stringify(body)}`);
      for (const event of body.items as Told[]) {
        this.#feed.push(event);
        this.#react(event);
      }
      if (body.items.length > 0) this.#after = body.next;
      if (body.items.length < 1000) return;
    }
  }

  #later(minutes: number, run: () => Promise<unknown>): void {
    this.#due.push({ at: this.now + minutes * MINUTE, run });
  }

  #react({ kind, leadId, data }: Told): void {
    const chance = this.#chance;
    if (kind === "offered")
      for (const personId of data.to as string[])
        this.#later(chance.wait((PACE[personId] ?? 70) / 60), () => this.#answer(leadId, personId));
    const owner = kind === "taken" ? data.personId : kind === "given" ? data.to : null;
    if (typeof owner === "string" && !chance.hits(FORGETS_TO_CALL))
      this.#later(chance.wait(CALLS_AFTER), () => this.#call(leadId, owner));
    if (kind === "message-out" && data.auto && data.channel === "text" && chance.hits(0.15))
      this.#later(chance.wait(2), () => this.#writeBack(String(data.to)));
  }

  async #answer(leadId: string, personId: string): Promise<void> {
    const drawn = this.#chance.next();
    if (drawn < TAKES) {
      if (await this.#do(personId, `/leads/${leadId}/take`, { personId })) this.#count.took++;
    } else if (drawn < TAKES + PASSES) {
      const reason = this.#chance.pick(tarnholt.policies.passReasons);
      await this.#do(personId, `/leads/${leadId}/pass`, { personId, reason });
    }
  }

  async #call(leadId: string, personId: string): Promise<void> {
    const outcome = this.#chance.weighted(OUTCOMES);
    if (await this.#do(personId, `/leads/${leadId}/tries`, { personId, channel: "call", outcome }))
      this.#count.called++;
  }

  /** Have one of ours do something. False where it is no longer to be done, or theirs no more; anything else that is refused is a fault. */
  async #do(personId: string, path: string, asked: object): Promise<boolean> {
    const { status, body } = await this.#as(personId, "POST", path, asked);
    if (status >= 300 && status !== 409 && status !== 404)
      throw new Error(`${path} said ${status}: ${JSON.stringify(body)}`);
    return status < 300;
  }

  #writeBack(phone: string): Promise<void> {
    const submission = `soak-${++this.#n}`;
    const body = { phone, message: this.#chance.pick(REPLIES), submission_id: submission };
    return this.#send("text-line", submission, JSON.stringify(body));
  }

  /** Everything is up again, and there is time for what waits between its tries. */
  async recover(): Promise<void> {
    await this.#weigh();
    for (const part of PARTS) this.#set(part, false);
    for (let n = 0; n < 6; n++) await this.#move(HOUR);
    await this.#read();
    this.#scanning = (await this.#ask("plans")) as Soaked["scanning"];
    await this.#server!.stop();
  }
}
