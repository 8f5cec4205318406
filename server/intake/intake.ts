import { createHash } from "node:crypto";
import { sql as raw } from "kysely";
import type { Plan } from "../../core/desk/plan.ts";
import type { Fields } from "../../core/intake/fields.ts";
import { submissionId } from "../../core/intake/understand.ts";
import type { Source } from "../../core/policy/source.ts";
import type { Engine } from "../engine/engine.ts";
import { ERASED_ONCE, printOf, SALT } from "../privacy/prints.ts";
import { PART_OF } from "./part-of.ts";
import type { Delivery, Parsed } from "./payload.ts";
import type { PayloadReader } from "./payload-reader.ts";
import type { InquiryWorker, Made, Manner } from "./worker.ts";

/** What the sender is told. */
export interface Receipt {
  readonly inquiryId: string;
  readonly leadId: string | null;
  readonly matched: "new" | "sure" | "none";
  readonly quarantined: boolean;
}

interface Submission {
  readonly source: Source;
  readonly delivery: Delivery;
  readonly parsed: Parsed;
  readonly dedupe: string | null;
  readonly fingerprint: string | null;
  readonly manner: Manner;
  /** How many more people its document names. */
  readonly more: number;
  readonly resolve: (receipt: Receipt) => void;
  readonly reject: (error: unknown) => void;
}

/** How many submissions share one transaction at most: enough to amortise the flush, short enough not to be felt. */
const BATCH = 64;
/**
 * A drain waits for company while more keeps arriving, since each costs a flush to disk: until so many turns
 * of the event loop have brought nothing new, and never longer than `LONGEST` ms.
 */
const QUIET_TURNS = 3;
const LONGEST = 20;
/** The same bytes from the same source within so long (ms) are a repeat, when the sender numbers nothing. */
const SAME_WITHIN = 300_000;
const HOUR = 3_600_000;
/** So much may lie in quarantine (bytes) before what looks like a robot's is no longer kept, and how exactly it is known (ms). */
const MOST_HELD = 512 * 1_048_576;
const KNOWN_FOR = 10_000;

/**
 * The door. Submissions that arrive together share one transaction, each with its own savepoint; none is
 * acknowledged before it is on disk, and one that cannot be understood is kept and quarantined.
 */
export class Intake {
  readonly #engine: Engine;
  readonly #payloads: PayloadReader;
  readonly #worker: InquiryWorker;
  readonly #waiting: Submission[] = [];
  readonly #known;
  readonly #print;
  readonly #insert;
  readonly #arrived;
  #scheduled = false;
  #stopped = false;
  #further: Promise<void> = Promise.resolve();
  #held = { at: Number.NEGATIVE_INFINITY, bytes: 0 };

  constructor(engine: Engine, payloads: PayloadReader, worker: InquiryWorker) {
    const { sql } = engine;
    this.#engine = engine;
    this.#payloads = payloads;
    this.#worker = worker;
    const known = sql.q.selectFrom("inquiries").select(["id", "leadId", "matched", "state"]);
    this.#known = sql.hot(known.where("dedupe", "=", ""));
    this.#print = sql.hot(
      known.where("fingerprint", "=", "").where("receivedAt", ">", 0).orderBy("receivedAt", "desc").limit(1),
    );
    this.#insert = sql.inserter("inquiries", [
      "id",
      "sourceId",
      "receivedAt",
      "dedupe",
      "fingerprint",
      "contentType",
      "headersJson",
      "raw",
      "state",
      "reason",
      "leadId",
      "matched",
      "test",
      "held",
    ]);
    this.#arrived = sql.hot(
      sql.q
        .insertInto("arrivals")
        .values({ sourceId: "", hour: 0, n: 1 })
        .onConflict((c) =>
          c
            .columns(["sourceId", "hour"])
            .doUpdateSet((eb) => ({ n: eb("arrivals.n", "+", eb.ref("excluded.n")) })),
        ),
    );
  }

  /**
   * Take a delivery in. Resolves once it is on disk; rejects only when it could not be stored at all. Of a document that
   * names several people the first is taken, and the others afterwards, one by one. `read` is the delivery as it was
   * read already.
   */
  async submit(
    source: Source,
    delivery: Delivery,
    manner: Manner = {},
    read: Parsed | null = null,
  ): Promise<Receipt> {
    const parsed = read ?? (await this.#payloads.read(delivery));
    const more = parsed.ok && parsed.more ? parsed.more : [];
    const receipt = await this.#queue(source, delivery, parsed, manner, more.length);
    if (more.length > 0) this.#takeFurther(receipt.inquiryId, source, more, manner);
    return receipt;
  }

  /** Take the others of a document, one after the other; how far it has come is kept, so that a restart goes on. */
  #takeFurther(inquiryId: string, source: Source, more: readonly Fields[], manner: Manner): void {
    const { sql, log } = this.#engine;
    const { q } = sql;
    const documents = q.selectFrom("documents").select("done").where("inquiryId", "=", inquiryId);
    this.#further = this.#further
      .then(async () => {
        // A document that came again, or was taken meanwhile, has none left.
        for (let at = sql.get(documents)?.done ?? more.length; at < more.length && !this.#stopped; at++) {
          const fields = more[at]!;
          const delivery: Delivery = {
            contentType: "application/json",
            headers: { [PART_OF]: inquiryId },
            raw: Buffer.from(JSON.stringify(fields)),
          };
          const own = submissionId(fields);
          const dedupe = own ? `${source.id}:${own}:${at}` : `${inquiryId}:${at}`;
          await this.#queue(source, delivery, { ok: true, fields }, { ...manner, dedupe });
          sql.run(
            q
              .updateTable("documents")
              .set({ done: at + 1 })
              .where("inquiryId", "=", inquiryId),
          );
        }
        if (!this.#stopped) sql.run(q.deleteFrom("documents").where("inquiryId", "=", inquiryId));
      })
      .catch((error: unknown) => log.error({ err: error, inquiryId }, "a document is not taken whole yet"));
  }

  /** Go on with documents that were not taken whole when the desk went down. */
  async resume(): Promise<void> {
    const { sql, reader, looker } = this.#engine;
    for (const { inquiryId } of sql.all(sql.q.selectFrom("documents").select("inquiryId"))) {
      const delivery = reader.delivery(inquiryId);
      const source = delivery && looker.setup.sources.find((s) => s.id === delivery.sourceId);
      const parsed = delivery && (await this.#payloads.read(delivery));
      if (source && parsed?.ok && parsed.more) this.#takeFurther(inquiryId, source, parsed.more, {});
    }
    await this.#further;
  }

  /** When every document taken so far has been taken whole. */
  settled(): Promise<void> {
    return this.#further;
  }

  /** Take nothing more; what is under way is finished. */
  async stop(): Promise<void> {
    this.#stopped = true;
    await this.#further;
  }

  /** Whether there is room to keep what looks like a robot's: quarantine has a ceiling, so that a flood fills no disk. */
  hasRoomForHeld(): boolean {
    const { sql, clock } = this.#engine;
    const now = clock.now();
    if (Math.abs(now - this.#held.at) > KNOWN_FOR) {
      const waiting = sql.q
        .selectFrom("inquiries")
        .select(raw<number>`coalesce(sum(length(raw)), 0)`.as("bytes"))
        .where("state", "=", raw.lit("quarantined"));
      this.#held = { at: now, bytes: sql.get(waiting)?.bytes ?? 0 };
    }
    return this.#held.bytes < MOST_HELD;
  }

  #queue(source: Source, delivery: Delivery, parsed: Parsed, manner: Manner, more = 0): Promise<Receipt> {
    const dedupe =
      manner.dedupe ?? dedupeOf(source, delivery, parsed.ok ? parsed.fields : {}, parsed.mail?.messageId);
    const fingerprint =
      dedupe || manner.test
        ? null
        : `${source.id}:${createHash("sha1").update(delivery.raw).digest("base64")}`;
    return new Promise((resolve, reject) => {
      this.#waiting.push({ source, delivery, parsed, dedupe, fingerprint, manner, more, resolve, reject });
      this.#schedule();
    });
  }

  #schedule(): void {
    if (this.#scheduled) return;
    this.#scheduled = true;
    this.#gather(performance.now() + LONGEST, this.#waiting.length, 0);
  }

  #gather(until: number, seen: number, quiet: number): void {
    setImmediate(() => {
      const now = this.#waiting.length;
      const turns = now > seen ? 0 : quiet + 1;
      if (turns >= QUIET_TURNS || now >= BATCH || performance.now() > until) this.#drain();
      else this.#gather(until, now, turns);
    });
  }

  #drain(): void {
    this.#scheduled = false;
    const batch = this.#waiting.splice(0, BATCH);
    if (this.#waiting.length > 0) this.#schedule();
    const { sql, looker, feed, log } = this.#engine;
    const plans: Plan[] = [];
    let last = 0;
    try {
      const receipts = sql.transaction(() =>
        batch.map((submission) => this.#one(submission, plans, (n) => (last = n))),
      );
      this.#engine.tellOf(plans, last);
      if (receipts.some((r) => r.quarantined)) feed.publish({ n: 0, leadId: null, kinds: ["quarantine"] });
      for (const [i, submission] of batch.entries()) submission.resolve(receipts[i]!);
    } catch (error) {
      // Nothing of the batch is on disk: say so to every sender, who will send again.
      looker.reload();
      log.error({ err: error }, "intake could not be written");
      for (const submission of batch) submission.reject(error);
    }
  }

  #one(submission: Submission, plans: Plan[], wrote: (n: number) => void): Receipt {
    const { dedupe, fingerprint, source, delivery, parsed, manner, more } = submission;
    const { sql, clock, looker, log } = this.#engine;
    const now = clock.now();
    const first = dedupe
      ? (this.#known.get(dedupe) ?? this.#knownErased(dedupe))
      : fingerprint
        ? this.#print.get(fingerprint, now - SAME_WITHIN, 1)
        : undefined;
    if (first)
      return {
        inquiryId: first.id,
        leadId: first.leadId,
        matched: first.matched,
        quarantined: first.state === "quarantined",
      };
    const inquiryId = this.#engine.newId("inq");
    let made: Made;
    try {
      made = sql.transaction(() => this.#worker.work(inquiryId, source, parsed, manner));
    } catch (error) {
      looker.reload();
      log.error({ err: error, inquiryId }, "an inquiry could not be worked");
      made = {
        reason: `Kite Bell failed while working it: ${error instanceof Error ? error.message : error}. Try it again once that is mended.`,
      };
    }
    const plan = "plans" in made ? made.plans[0]! : null;
    if ("plans" in made) {
      plans.push(...made.plans);
      wrote(made.n);
    }
    const matched = !plan ? "none" : plan.before ? "sure" : "new";
    this.#insert({
      id: inquiryId,
      sourceId: source.id,
      receivedAt: now,
      dedupe,
      fingerprint,
      contentType: delivery.contentType,
      headersJson: JSON.stringify(delivery.headers),
      raw: delivery.raw,
      state: plan ? "understood" : "quarantined",
      reason: "reason" in made ? made.reason : null,
      leadId: plan?.leadId ?? null,
      matched,
      test: manner.test ? 1 : 0,
      held: "held" in made && made.held ? 1 : 0,
    });
    if (more > 0) sql.run(sql.q.insertInto("documents").values({ inquiryId, done: 0 }));
    if (!manner.test) this.#arrived.run(source.id, Math.floor(now / HOUR) * HOUR, 1);
    return { inquiryId, leadId: plan?.leadId ?? null, matched, quarantined: !plan };
  }

  /** A submission of somebody who was erased since, sent again: of its number only a print is kept. */
  #knownErased(dedupe: string) {
    const { kept } = this.#engine;
    return kept.counter(ERASED_ONCE) === null
      ? undefined
      : this.#known.get(printOf(kept.ownSecret(SALT), dedupe));
  }

  /** Count arrivals that came another way than one by one: a spreadsheet's rows. */
  countArrivals(sourceId: string, at: number, n: number): void {
    if (n > 0) this.#arrived.run(sourceId, Math.floor(at / HOUR) * HOUR, n);
  }

  /** Whether an inquiry from the quarantine is still there. */
  isQuarantined(inquiryId: string): boolean {
    const { q } = this.#engine.sql;
    return !!this.#engine.sql.get(
      q
        .selectFrom("inquiries")
        .select("id")
        .where("id", "=", inquiryId)
        .where("state", "=", raw.lit("quarantined")),
    );
  }
}

function dedupeOf(
  source: Source,
  delivery: Delivery,
  fields: Readonly<Record<string, string>>,
  messageId?: string | null,
): string | null {
  const own =
    delivery.headers["idempotency-key"] || submissionId(fields) || fields.call_id || messageId || null;
  return own && `${source.id}:${own}`;
}
