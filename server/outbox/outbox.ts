import { sql as raw, type Selectable } from "kysely";
import type { Logger } from "pino";
import { type OutChannel, type Parcel, Refused } from "../channels/channel.ts";
import type { Clock } from "../clock.ts";
import type { OutboxRow } from "../db/schema.ts";
import type { Sql } from "../db/sql.ts";
import { digest, goesWithOthers, goingWith, Lately } from "./together.ts";
import { type Down, Ways } from "./ways.ts";

export type Row = Selectable<OutboxRow>;

interface Parts {
  readonly sql: Sql;
  readonly clock: Clock;
  /** Makes the message ready to leave: links, twins, files. */
  readonly pack: (row: Row) => Parcel;
  readonly channels: Readonly<Record<OutboxRow["channel"], OutChannel>>;
  /** Where all that waits stands, for a message that tells of more than it names. */
  readonly list: () => string;
  /** Messages of cadences that leave by one line within a minute at most; null for any number. */
  readonly perLine: (channel: OutboxRow["channel"]) => number | null;
  /** A fraction in [0, 1) that spreads retries. */
  readonly chance: () => number;
  /** Told when a way out stops working, and when it works again. */
  readonly troubled: () => void;
  /** Told of a message that will never arrive, and why: whoever is told has it given up (`giveUp`). */
  readonly refused: (row: Row, because: string) => void;
  /** Told of the leads whose messages have moved on. */
  readonly moved: (leadIds: readonly string[]) => void;
  readonly log: Logger;
}

export interface Outage extends Down {
  /** Messages that wait for it. */
  readonly waiting: number;
}

/** How many messages are on their way at once by each channel: a slow one holds up no other. */
const AT_ONCE = 8;
const CHANNELS: readonly Row["channel"][] = ["chat", "text", "email"];
/** After so many failures a message waits for a person. While nothing gets through by its way, none is given up: it is not to blame. */
export const MAX_ATTEMPTS = 8;
/** A way out that says nothing for so long (ms) has failed: so that it is noticed, and holds up nothing. */
const PATIENCE = 12_000;

/** What a carrier lets through is counted by the minute (ms). */
const MINUTE = 60_000;

/** How old what waited for a way out may be when it is set up (ms): alerts, and messages to leads. */
const ALERT_KEEPS = 3_600_000;
const LETTER_KEEPS = 2 * 86_400_000;

/** What a promise comes to, or a failure when it takes longer than so many ms. */
function within<T>(ms: number, promise: Promise<T>): Promise<T> {
  let handle: NodeJS.Timeout;
  const late = new Promise<never>((_, reject) => {
    handle = setTimeout(() => reject(new Error(`It gave no answer for ${ms / 1000} seconds.`)), ms);
  });
  return Promise.race([promise, late]).finally(() => clearTimeout(handle));
}

/** How long to wait after the n-th failure (ms): 5 s doubling to 15 min, give or take a quarter. */
export function backOff(attempts: number, chance: number): number {
  return Math.round(Math.min(900_000, 5_000 * 2 ** (attempts - 1)) * (0.75 + chance / 2));
}

/**
 * Delivers what plans have queued: at least once under one key, recorded once. A message that keeps
 * failing is retried with growing pauses, then lies dead until a person sends it again.
 */
export class Outbox {
  readonly #parts: Parts;
  readonly #due;
  readonly #sent;
  readonly #inFlight = new Map<string, Row["channel"]>();
  readonly #ways: Ways;
  readonly #lately = new Lately();
  readonly #finished: Row[] = [];
  /** When each line carried messages of cadences within the last minute, the latest last. */
  readonly #carried = new Map<string, number[]>();
  #pumping = false;
  #writing = false;
  #stopped = true;
  #handle: NodeJS.Timeout | null = null;
  #quiet: (() => void)[] = [];

  constructor(parts: Parts) {
    const { sql } = parts;
    this.#parts = parts;
    this.#ways = new Ways(parts.clock, parts.troubled);
    // A literal, not a parameter: only so may SQLite use the index of queued messages alone.
    const queued = sql.q.selectFrom("outbox").selectAll().where("state", "=", raw.lit("queued"));
    this.#due = sql.hot(
      queued.where("channel", "=", "text").where("nextAt", "<=", 0).orderBy("nextAt").limit(1),
    );
    this.#sent = sql.hot(
      sql.q
        .updateTable("outbox")
        .set({ state: "sent", sentAt: 0, error: null })
        .where("n", "=", 0)
        // A receipt may have been quicker.
        .where("state", "=", raw.lit("queued")),
    );
  }

  start(): void {
    this.#stopped = false;
    this.kick();
  }

  stop(): void {
    this.#stopped = true;
    if (this.#handle) clearTimeout(this.#handle);
  }

  /** Something may be due: look soon. */
  kick(): void {
    if (this.#pumping || this.#stopped) return;
    this.#pumping = true;
    setImmediate(() => {
      this.#pumping = false;
      this.#pump();
    });
  }

  /** Resolves when everything due by the clock has been tried. */
  async drained(): Promise<void> {
    while (
      !this.#stopped &&
      (this.#inFlight.size > 0 ||
        this.#finished.length > 0 ||
        CHANNELS.some((channel) => this.#take(channel, 1).length > 0))
    ) {
      this.kick();
      await new Promise<void>((resolve) => this.#quiet.push(resolve));
    }
  }

  /** Whether a message is on its way just now: it can't be called back any more. */
  isLeaving(id: string): boolean {
    return this.#inFlight.has(id) || this.#finished.some((row) => row.id === id);
  }

  #flying(channel: Row["channel"]): number {
    let n = 0;
    for (const at of this.#inFlight.values()) if (at === channel) n++;
    return n;
  }

  #take(channel: Row["channel"], n: number): Row[] {
    if (n <= 0) return [];
    const rows = this.#due.all(channel, this.#parts.clock.now(), n + this.#flying(channel));
    return rows.filter((row) => !this.#inFlight.has(row.id)).slice(0, n);
  }

  #pump(): void {
    if (this.#stopped) return;
    if (this.#handle) clearTimeout(this.#handle);
    for (const channel of CHANNELS) {
      // A way that is down is tried with one message at a time, until it works again.
      const room = (this.#ways.isDown(channel) ? 1 : AT_ONCE) - this.#flying(channel);
      for (const row of this.#take(channel, room)) {
        if (!this.#mayGo(row)) continue;
        // One of those before it may have taken it along.
        if (!this.#inFlight.has(row.id)) void this.#deliver(this.#together(row));
      }
    }
    if (this.#inFlight.size === 0 && this.#finished.length === 0) this.#settle();
    // Retries wait in the database; a look every second finds them.
    this.#handle = setTimeout(() => this.kick(), 1_000);
    this.#handle.unref();
  }

  /**
   * Whether a message of a cadence may leave by its line now. When the line has carried what it may within a minute, all that
   * waits for it is put off at once, each to its own minute: nothing asks twice.
   */
  #mayGo(row: Row): boolean {
    const { sql, clock, perLine, log } = this.#parts;
    const most = row.purpose === "cadence" ? perLine(row.channel) : null;
    if (most === null) return true;
    const now = clock.now();
    const lately = (this.#carried.get(row.fromAddress) ?? this.#carriedBefore(row, now)).filter(
      (at) => at > now - MINUTE,
    );
    if (lately.length < most) {
      this.#carried.set(row.fromAddress, [...lately, now]);
      return true;
    }
    this.#carried.set(row.fromAddress, lately);
    const waiting = sql.all(
      sql.q
        .selectFrom("outbox")
        .select(["n", "id"])
        .where("state", "=", raw.lit("queued"))
        .where("channel", "=", row.channel)
        .where("purpose", "=", "cadence")
        .where("fromAddress", "=", row.fromAddress)
        .where("nextAt", "<=", now)
        .orderBy("nextAt")
        .orderBy("n"),
    );
    const free = lately[0]! + MINUTE;
    const later = sql.q.updateTable("outbox");
    try {
      sql.transaction(() => {
        waiting
          .filter(({ id }) => !this.#inFlight.has(id))
          .forEach(({ n }, i) => {
            sql.run(later.set({ nextAt: free + Math.floor(i / most) * MINUTE }).where("n", "=", n));
          });
      });
    } catch (error) {
      log.error({ err: error }, "messages beyond what a line carries could not be put off");
    }
    return false;
  }

  /** When a line carried messages of cadences within the last minute, as it is written: what a restart knows. */
  #carriedBefore({ fromAddress }: Row, now: number): number[] {
    const { sql } = this.#parts;
    const lately = sql.q
      .selectFrom("outbox")
      .select("sentAt")
      .where("purpose", "=", "cadence")
      .where("fromAddress", "=", fromAddress)
      .where("sentAt", ">", now - MINUTE)
      .orderBy("n", "desc")
      .limit(500);
    return sql
      .all(lately)
      .flatMap(({ sentAt }) => sentAt ?? [])
      .sort((a, b) => a - b);
  }

  #settle(): void {
    const waiting = this.#quiet;
    this.#quiet = [];
    for (const resolve of waiting) resolve();
  }

  /** The message with those that go along with it; none when it must wait, since whoever gets it has just had many. */
  #together(row: Row): readonly Row[] {
    if (!goesWithOthers(row)) return [row];
    const { sql, clock } = this.#parts;
    const now = clock.now();
    const { q } = sql;
    const queued = q
      .selectFrom("outbox")
      .selectAll()
      .where("state", "=", raw.lit("queued"))
      .where("channel", "=", row.channel)
      .where("nextAt", "=", row.nextAt)
      .where("toAddress", "=", row.toAddress)
      .orderBy("n");
    const due = sql.all(queued).filter((r) => !this.#inFlight.has(r.id));
    const rows = goingWith(row, due);
    const next = this.#lately.nextFor(row, now);
    if (next > now) {
      const later = due.filter(goesWithOthers).map((r) => r.n);
      try {
        sql.run(q.updateTable("outbox").set({ nextAt: next }).where("n", "in", later));
      } catch (error) {
        // Where that can't be written they are due still, and looked at again in a second.
        this.#parts.log.error({ err: error }, "alerts could not be put off by a minute");
      }
      return [];
    }
    this.#lately.went(row, now);
    return rows;
  }

  async #deliver(rows: readonly Row[]): Promise<void> {
    const [first] = rows;
    if (!first) return;
    for (const row of rows) this.#inFlight.set(row.id, row.channel);
    try {
      const parcels = rows.map((row) => this.#parts.pack(row));
      const way = this.#parts.channels[first.channel];
      await within(
        PATIENCE,
        way.deliver(rows.length === 1 ? parcels[0]! : digest(parcels, this.#parts.list())),
      );
      if (this.#ways.well(first.channel)) this.#goesAgain(first.channel);
      this.#finished.push(...rows);
      this.#record();
    } catch (error) {
      const said = error instanceof Error ? error.message : String(error);
      for (const row of rows) {
        const recorded = this.#recordFailure(row, said, error instanceof Refused);
        this.#inFlight.delete(row.id);
        if (recorded) this.kick();
      }
      // Where it could not be written it is due still: the look of every second finds it, not one at once.
      if (this.#inFlight.size === 0 && this.#finished.length === 0) this.#settle();
    }
  }

  /** Write that a message could not be delivered. False when that cannot be written: it stays queued as it is. */
  #recordFailure(row: Row, said: string, forGood: boolean): boolean {
    try {
      if (forGood) this.#refused(row, said);
      else this.#failed(row, said);
      return true;
    } catch (error) {
      this.#parts.log.error({ err: error, messageId: row.id }, "a failure could not be recorded");
      return false;
    }
  }

  /** A way works again: what has waited for it goes at once, and what failed meanwhile is not held against it. */
  #goesAgain(channel: Row["channel"]): void {
    const { sql, clock, log } = this.#parts;
    const waiting = sql.q.updateTable("outbox").set({ attempts: 0, nextAt: clock.now() });
    try {
      sql.run(
        waiting
          .where("state", "=", raw.lit("queued"))
          .where("channel", "=", channel)
          .where("attempts", ">", 0),
      );
    } catch (error) {
      log.error({ err: error }, "messages that wait for a way that works again could not be brought forward");
    }
  }

  /** Deliveries that finish together are recorded in one transaction. */
  #record(): void {
    if (this.#writing) return;
    this.#writing = true;
    setImmediate(() => {
      this.#writing = false;
      const done = this.#finished.splice(0);
      const { sql, clock, moved, log } = this.#parts;
      if (this.#stopped) return;
      try {
        sql.transaction(() => {
          for (const { n } of done) this.#sent.run("sent", clock.now(), null, n);
        });
      } catch (error) {
        // They have gone and must not go twice: they stay in flight here until it can be written that they went.
        log.error({ err: error }, "what was delivered could not be recorded; it is tried again");
        this.#finished.unshift(...done);
        setTimeout(() => this.#record(), 2_000).unref();
        return;
      }
      for (const { id } of done) this.#inFlight.delete(id);
      moved([...new Set(done.flatMap((d) => d.leadId ?? []))]);
      this.kick();
    });
  }

  /** The way works, or it could not have refused. */
  #refused(row: Row, because: string): void {
    const { log, refused } = this.#parts;
    if (this.#stopped) return;
    if (this.#ways.well(row.channel)) this.#goesAgain(row.channel);
    log.warn({ messageId: row.id, channel: row.channel, because }, "a message was refused for good");
    refused(row, because);
  }

  /** A message has not arrived and is not tried again on its own. */
  giveUp(id: string, because: string): void {
    const { sql } = this.#parts;
    sql.run(
      sql.q
        .updateTable("outbox")
        .set({ state: "dead", error: because, nextAt: this.#parts.clock.now() })
        .where("id", "=", id),
    );
  }

  /** The far end has said that it has a message. */
  arrived(id: string): void {
    const { sql, clock } = this.#parts;
    sql.run(
      sql.q
        .updateTable("outbox")
        .set((eb) => ({
          state: "delivered",
          sentAt: eb.fn.coalesce("sentAt", eb.val(clock.now())),
          error: null,
        }))
        .where("id", "=", id)
        .where("state", "in", ["queued", "sent"]),
    );
  }

  #failed(row: Row, error: string): void {
    const { sql, clock, chance, log, moved } = this.#parts;
    if (this.#stopped) return;
    const mayBeToBlame = this.#ways.failed(row.channel, error, row.id);
    const attempts = row.attempts + 1;
    const state = mayBeToBlame && attempts >= MAX_ATTEMPTS ? "dead" : "queued";
    const nextAt = clock.now() + backOff(attempts, chance());
    sql.run(sql.q.updateTable("outbox").set({ attempts, state, nextAt, error }).where("n", "=", row.n));
    log.warn(
      { messageId: row.id, channel: row.channel, attempts, error },
      "a message could not be delivered",
    );
    if (row.leadId) moved([row.leadId]);
  }

  /** How many messages wait for a way. */
  waiting(channel: Row["channel"]): number {
    const { q } = this.#parts.sql;
    const queued = q
      .selectFrom("outbox")
      .where("state", "=", raw.lit("queued"))
      .where("channel", "=", channel);
    const row = this.#parts.sql.get(queued.select((eb) => eb.fn.countAll<number>().as("n")));
    return Number(row?.n ?? 0);
  }

  /** Ways out that do not work now, with how much waits on each. */
  outages(): readonly Outage[] {
    return this.#ways.down().map((way) => ({ ...way, waiting: this.waiting(way.channel) }));
  }

  /**
   * A way leads elsewhere from now on: what waited goes; what would come too late is given up, for a person to send again.
   */
  led(channel: Row["channel"]): void {
    const { sql, clock } = this.#parts;
    const now = clock.now();
    this.#ways.forget(channel);
    const waiting = sql.q
      .updateTable("outbox")
      .where("state", "=", raw.lit("queued"))
      .where("channel", "=", channel)
      .where("attempts", ">", 0);
    sql.transaction(() => {
      const late = { state: "dead", error: "It waited too long to be of use." } as const;
      sql.run(
        waiting
          .set(late)
          .where("personId", "is not", null)
          .where("createdAt", "<", now - ALERT_KEEPS),
      );
      sql.run(
        waiting
          .set(late)
          .where("personId", "is", null)
          .where("createdAt", "<", now - LETTER_KEEPS),
      );
      sql.run(waiting.set({ attempts: 0, nextAt: now }));
    });
    this.kick();
  }

  /** Put a dead message back in line. Returns whether there was one. */
  resend(id: string): "queued" | "not-failed" | "unknown" {
    const { sql, clock } = this.#parts;
    const again = { state: "queued", attempts: 0, nextAt: clock.now() } as const;
    const changed = sql.run(
      sql.q.updateTable("outbox").set(again).where("id", "=", id).where("state", "=", raw.lit("dead")),
    );
    if (changed === 0)
      return sql.get(sql.q.selectFrom("outbox").select("id").where("id", "=", id)) ? "not-failed" : "unknown";
    this.kick();
    return "queued";
  }
}
