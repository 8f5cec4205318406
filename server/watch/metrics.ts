import { statSync } from "node:fs";
import { sql as raw } from "kysely";
import { Counter, collectDefaultMetrics, Gauge, Histogram, Registry } from "prom-client";
import type { LeadEvent } from "../../core/lead/events.ts";
import type { Lead } from "../../core/lead/lead.ts";
import { OPEN_PLACES } from "../../core/lead/queue.ts";
import type { Desk } from "../desk.ts";
import type { ClockWatch } from "./health.ts";
import { healthOf } from "./health.ts";

/** Bounds of times to a reply (seconds): a minute, five, fifteen, an hour, four, a day. */
const REPLY = [10, 60, 300, 900, 3_600, 14_400, 86_400];
/** So many calls are told apart. */
const MOST_CALLS = 600;
const REQUEST = [0.005, 0.02, 0.05, 0.1, 0.3, 1, 5];

/**
 * What whoever runs the machine watches, as Prometheus reads it. Nothing in it names a lead or a person. What happens is counted
 * as it happens; what stands is asked for when somebody reads.
 */
export class Metrics {
  readonly #registry = new Registry();
  readonly #inquiries: Counter<"source">;
  readonly #reply: Histogram<"by">;
  readonly #requests: Histogram<"call" | "status">;
  readonly #desk: Desk;
  readonly #calls = new Set<string>();

  constructor(desk: Desk, clockWatch: ClockWatch) {
    this.#desk = desk;
    const registers = [this.#registry];
    collectDefaultMetrics({ register: this.#registry });
    this.#inquiries = new Counter({
      name: "kitebell_inquiries_total",
      help: "Inquiries taken in, by source",
      labelNames: ["source"],
      registers,
    });
    this.#reply = new Histogram({
      name: "kitebell_first_reply_seconds",
      help: "From a lead's first inquiry to its first reply: by the desk on its own, and by a person's first try",
      labelNames: ["by"],
      buckets: REPLY,
      registers,
    });
    this.#requests = new Histogram({
      name: "kitebell_request_seconds",
      help: "How long requests took, by call and status",
      labelNames: ["call", "status"],
      buckets: REQUEST,
      registers,
    });
    this.#standing(clockWatch);
    desk.onPlan(({ before, after, events }) => this.#follow(before, after, events));
  }

  #follow(before: Lead | null, after: Lead, events: readonly LeadEvent[]): void {
    if (after.test) return;
    for (const event of events) {
      if (event.kind === "inquiry") {
        const source = this.#desk.setup.sources.find((s) => s.id === event.data.sourceId);
        this.#inquiries.inc({ source: source?.key ?? "gone" });
      }
    }
    const replied = events.find((e) => e.kind === "message-out" && e.data.auto);
    if (replied && (before?.automatic.length ?? 0) === 0) this.#firstReply("desk", replied.at, after);
    const tried = events.find((e) => e.kind === "tried");
    if (tried && (before?.tries ?? 0) === 0) this.#firstReply("person", tried.at, after);
  }

  #firstReply(by: "desk" | "person", at: number, lead: Lead): void {
    this.#reply.observe({ by }, (at - lead.createdAt) / 1000);
  }

  /** What stands is read when somebody asks, in one go for all of it. */
  #standing(clockWatch: ClockWatch): void {
    const desk = this.#desk;
    const { sql, clock, timers } = desk;
    const { q } = sql;
    const gauge = (name: string, help: string, read: (set: Gauge<"of">["set"]) => void) =>
      new Gauge({
        name: `kitebell_${name}`,
        help,
        labelNames: ["of"],
        registers: [this.#registry],
        collect() {
          this.reset();
          read(this.set.bind(this) as Gauge<"of">["set"]);
        },
      });
    gauge("outbox_queued", "Messages that wait to leave, by channel", (set) => {
      for (const channel of ["email", "text", "chat"] as const)
        set({ of: channel }, desk.outbox.waiting(channel));
    });
    gauge("webhooks", "Deliveries to other systems: waiting, and put aside within a week", (set) => {
      let [waiting, aside] = [0, 0];
      for (const one of desk.hooks.standing().values()) {
        waiting += one.waiting;
        aside += one.aside;
      }
      set({ of: "waiting" }, waiting);
      set({ of: "aside" }, aside);
    });
    gauge("timers_late_seconds", "By how much the next timer is overdue", (set) =>
      set({ of: "next" }, Math.max(0, clock.now() - timers.nextDue) / 1000),
    );
    gauge("leads", "Leads that are still worked on, by their place in the queue", (set) => {
      const places = q.selectFrom("leads").select(["place", (eb) => eb.fn.countAll<number>().as("n")]);
      // Those that are done with are most of a desk of years: to count them would take longer than all else here.
      for (const { place, n } of sql.all(
        places.where("place", "in", [...OPEN_PLACES, "parked"]).groupBy("place"),
      ))
        set({ of: place }, Number(n));
    });
    gauge("quarantined", "Inquiries that wait in quarantine", (set) => {
      const all = q.selectFrom("inquiries").select((eb) => eb.fn.countAll<number>().as("n"));
      set({ of: "waiting" }, Number(sql.get(all.where("state", "=", raw.lit("quarantined")))?.n ?? 0));
    });
    gauge("database_bytes", "The database and its log on disk", (set) => {
      for (const [of, path] of [
        ["database", sql.path],
        ["log", `${sql.path}-wal`],
      ] as const)
        set({ of }, statSync(path, { throwIfNoEntry: false })?.size ?? 0);
    });
    gauge("well", "1 while a part of the desk is well, 0 while it is not", (set) => {
      for (const [of, isWell] of Object.entries(healthOf(desk, clockWatch).checks))
        set({ of }, isWell ? 1 : 0);
    });
    gauge("backup_age_seconds", "How old the newest backup is", (set) => {
      const { backupAge } = healthOf(desk, clockWatch);
      if (backupAge !== null) set({ of: "newest" }, backupAge);
    });
  }

  /** A request was answered: by which call (a pattern, never an address), with which status, after how long (ms). */
  answered(call: string, status: number, ms: number): void {
    // Whoever asks for what there is not could ask for more than a machine can count.
    if (!this.#calls.has(call) && this.#calls.size < MOST_CALLS) this.#calls.add(call);
    const known = this.#calls.has(call) ? call : "other";
    this.#requests.observe({ call: known, status: String(status) }, ms / 1000);
  }

  /** All of it as text, and its media type. */
  async read(): Promise<{ readonly type: string; readonly text: string }> {
    return { type: this.#registry.contentType, text: await this.#registry.metrics() };
  }
}
