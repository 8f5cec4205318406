import { createHash } from "node:crypto";
import { sql as raw } from "kysely";
import type { Logger } from "pino";
import { toE164 } from "../../core/contact/phone.ts";
import { calledIn } from "../../core/desk/call.ts";
import { hearFrom } from "../../core/desk/hear.ts";
import type { Decided, Plan, World } from "../../core/desk/plan.ts";
import { type Inquiry, receive } from "../../core/desk/receive.ts";
import { offeredLast, readTextBack, textBack } from "../../core/desk/text-back.ts";
import type { Fields } from "../../core/intake/fields.ts";
import { submissionId, understand } from "../../core/intake/understand.ts";
import type { InquiryFacts } from "../../core/lead/inquiry.ts";
import type { Person } from "../../core/policy/people.ts";
import type { Source } from "../../core/policy/source.ts";
import type { Attachment } from "../../core/vocabulary.ts";
import type { Clock } from "../clock.ts";
import type { Sql } from "../db/sql.ts";
import type { Looker } from "../engine/looker.ts";
import type { Files } from "../files/files.ts";
import type { MakeId } from "../ids.ts";
import type { Links } from "../links.ts";
import type { Reader } from "../read/reader.ts";
import { type CallReport, readCall } from "./call.ts";
import { PART_OF } from "./part-of.ts";
import type { Delivery, Parsed } from "./payload.ts";
import type { PayloadReader } from "./payload-reader.ts";

/** What the sender is told. */
export interface Receipt {
  readonly inquiryId: string;
  readonly leadId: string | null;
  readonly matched: "new" | "sure" | "none";
  readonly quarantined: boolean;
}

/** How an inquiry is to be taken, beyond what it says itself. */
export interface Manner {
  /** A test by somebody of ours: a draft or paused source takes it too. */
  readonly test?: Inquiry["test"];
  /** Somebody looked at it and wants a lead made of it, whatever spoke against it. */
  readonly insisted?: boolean;
  readonly goesTo?: Inquiry["goesTo"];
  readonly by?: Inquiry["by"];
  /** What it is recognised by when it comes again; overrides what it says itself. */
  readonly dedupe?: string;
  /** Why it waits in quarantine although it can be read: it looks like spam. */
  readonly held?: string | null;
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

interface Parts {
  readonly sql: Sql;
  readonly clock: Clock;
  readonly id: MakeId;
  readonly looker: Looker;
  readonly links: Links;
  readonly files: Files;
  readonly reader: Reader;
  readonly payloads: PayloadReader;
  readonly commit: (plan: Plan) => number;
  /** Told of the plans of a batch once they are on disk. */
  readonly committed: (plans: readonly Plan[], lastEvent: number) => void;
  /** Text one of our own people. Called inside a transaction. */
  readonly tell: (inquiryId: string, person: Person, text: string) => void;
  /** Told when something went to quarantine. */
  readonly held: () => void;
  readonly log: Logger;
}

/** What is answered to texts of our own people that are no command, or come too late. */
const TEXT_HELP =
  "Text 1 to take the lead offered to you, or 2 and a reason to pass it on. To reach a lead, write from the desk.";
const NOTHING_OFFERED = "Nothing is offered to you just now: it was taken, passed on, or its time ran out.";

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
  readonly #parts: Parts;
  readonly #waiting: Submission[] = [];
  readonly #known;
  readonly #print;
  readonly #insert;
  readonly #arrived;
  #scheduled = false;
  #stopped = false;
  #further: Promise<void> = Promise.resolve();
  #held = { at: Number.NEGATIVE_INFINITY, bytes: 0 };

  constructor(parts: Parts) {
    const { sql } = parts;
    this.#parts = parts;
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
    const parsed = read ?? (await this.#parts.payloads.read(delivery));
    const more = parsed.ok && parsed.more ? parsed.more : [];
    const receipt = await this.#queue(source, delivery, parsed, manner, more.length);
    if (more.length > 0) this.#takeFurther(receipt.inquiryId, source, more, manner);
    return receipt;
  }

  /** Take the others of a document, one after the other; how far it has come is kept, so that a restart goes on. */
  #takeFurther(inquiryId: string, source: Source, more: readonly Fields[], manner: Manner): void {
    const { sql, log } = this.#parts;
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
    const { sql, reader, looker, payloads } = this.#parts;
    for (const { inquiryId } of sql.all(sql.q.selectFrom("documents").select("inquiryId"))) {
      const delivery = reader.delivery(inquiryId);
      const source = delivery && looker.setup.sources.find((s) => s.id === delivery.sourceId);
      const parsed = delivery && (await payloads.read(delivery));
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
    const { sql, clock } = this.#parts;
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
    const { sql, looker, committed, held, log } = this.#parts;
    const plans: Plan[] = [];
    let last = 0;
    try {
      const receipts = sql.transaction(() =>
        batch.map((submission) => this.#one(submission, plans, (n) => (last = n))),
      );
      committed(plans, last);
      if (receipts.some((r) => r.quarantined)) held();
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
    const { sql, clock, id, looker, log } = this.#parts;
    const now = clock.now();
    const first = dedupe
      ? this.#known.get(dedupe)
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
    const inquiryId = id("inq");
    let made: Made;
    try {
      made = sql.transaction(() => this.make(inquiryId, source, parsed, manner));
    } catch (error) {
      looker.reload();
      log.error({ err: error, inquiryId }, "an inquiry could not be worked");
      made = {
        reason: `Kite Bell failed while working it: ${error instanceof Error ? error.message : error}. Replay it once that is mended.`,
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

  /** Understand, match, decide and commit one inquiry. Call it inside a transaction. */
  make(inquiryId: string, source: Source, parsed: Parsed, manner: Manner = {}): Made {
    const { looker, commit } = this.#parts;
    if (!manner.test && !manner.insisted) {
      if (source.state === "paused")
        return {
          reason: `${source.name} is paused. It is kept here; put the source live again and replay it.`,
        };
      if (manner.held) return { reason: manner.held, held: true };
    }
    if (!parsed.ok) return { reason: parsed.reason };
    const ours = manner.test || manner.insisted ? null : this.#fromOurs(inquiryId, source, parsed);
    if (ours) return ours;
    const understood = understand(source, looker.setup.policies, parsed.fields);
    const reply = this.#replyOf(inquiryId, source, parsed);
    const match =
      (reply?.leadId && { leadId: reply.leadId, on: "the conversation" }) ||
      (understood.ok ? this.#matchOf(understood.facts, manner) : null);
    if (match && reply) return this.#decide([[match.leadId, reply.decide]]);
    const robot = parsed.mail && !parsed.mail.document && !manner.insisted ? parsed.mail.robot : null;
    if (robot)
      return {
        reason: `A machine wrote this (${robot}), so it made no lead. Replay it if a person is behind it.`,
        held: true,
      };
    if (!understood.ok) return { reason: understood.reason };
    const { facts } = understood;
    const inquiry: Inquiry = {
      inquiryId,
      source,
      facts,
      matchedOn: match?.on ?? null,
      by: manner.by ?? { kind: "lead" },
      goesTo:
        manner.goesTo ??
        (source.lineOwnerId && !manner.test?.only
          ? { kind: "person", id: source.lineOwnerId }
          : { kind: "rules" }),
      likely: match || manner.test ? [] : looker.likely(facts),
      ...(manner.test && { test: manner.test }),
      ...(parsed.mail?.robot && { unanswered: parsed.mail.robot }),
    };
    const decided = receive(looker.look(match?.leadId ?? null), inquiry);
    if (!decided.ok) return { reason: decided.problem.detail };
    const n = commit(decided.plan);
    // A call or a mail with files from somebody new: the lead first, then what came with it.
    const then = reply?.also ? reply.decide(looker.look(decided.plan.leadId)) : null;
    if (!then?.ok || then.plan.events.length === 0) return { plans: [decided.plan], n };
    return { plans: [decided.plan, then.plan], n: commit(then.plan) };
  }

  /** The lead it surely belongs to. A test is no news of anybody's, even where whoever tests was a lead once. */
  #matchOf({ phones, emails }: InquiryFacts, { test }: Manner) {
    const { looker } = this.#parts;
    const match = looker.match([...phones, ...emails]);
    return match && test && !looker.lead(match.leadId)?.test ? null : match;
  }

  /**
   * What one of our own people sends by a text, a call or a mail: they are no lead, whatever they send. A text may take or
   * pass what is offered to them, and is answered in any case. Null when it is from nobody of ours.
   */
  #fromOurs(inquiryId: string, source: Source, parsed: Parsed & { ok: true }): Made | null {
    const { looker } = this.#parts;
    const { phone, message } = parsed.fields;
    const number = (source.channel === "text" || source.channel === "call") && phone ? toE164(phone) : null;
    const mail = parsed.mail && !parsed.mail.document ? parsed.mail.from : null;
    const person = looker.setup.people.find(
      (p) => !p.left && ((number && p.phone === number) || (mail && p.email === mail)),
    );
    if (!person) return null;
    if (source.channel === "text") return this.#textBack(inquiryId, person, message ?? "");
    const what = source.channel === "call" ? "called this line" : "wrote this mail";
    return {
      reason: `${person.name} ${what}: one of us, and no lead. Make a lead of it if it is one.`,
      held: true,
    };
  }

  /** A text by which somebody of ours takes or passes what is offered to them; whatever else it says is answered. */
  #textBack(inquiryId: string, person: Person, message: string): Made {
    const { reader, tell } = this.#parts;
    const said = readTextBack(message);
    const lead = said && offeredLast(reader.theirs(person.id), person.id);
    if (said && lead) return this.#decide([[lead.id, (world) => textBack(world, person.id, said)]]);
    tell(inquiryId, person, said ? NOTHING_OFFERED : TEXT_HELP);
    return {
      reason: said
        ? `${person.name} texted “${message}”, but nothing is offered to them now. They were told so.`
        : `${person.name} texted “${message.slice(0, 300)}”: one of us, and no lead. They were told what they can text.`,
      held: true,
    };
  }

  #decide(steps: readonly (readonly [string, (world: World) => Decided])[]): Made {
    const plans: Plan[] = [];
    let n = 0;
    for (const [leadId, decide] of steps) {
      const decided = decide(this.#parts.looker.look(leadId));
      if (!decided.ok) return { reason: decided.problem.detail };
      n = this.#parts.commit(decided.plan);
      plans.push(decided.plan);
    }
    return { plans, n };
  }

  /** What a call, a text or a mail is to a lead that is known already; null when it is none of these. */
  #replyOf(inquiryId: string, source: Source, parsed: Parsed & { ok: true }): Reply | null {
    const { files, links, looker } = this.#parts;
    const call = source.channel === "call" ? readCall(parsed.fields) : null;
    if (call) return { leadId: null, decide: (world) => calledIn(world, withLine(call, source)), also: true };
    const { mail } = parsed;
    if (mail && !mail.document) {
      const thread = mail.answers.map((id) => links.leadOfMail(id)).find((id) => id && looker.lead(id));
      const attachments: Attachment[] = mail.files.map((f) => files.keep(f.bytes, f.name, f.type));
      return {
        leadId: thread ? looker.survivor(thread) : null,
        decide: (world) =>
          hearFrom(world, {
            channel: "email",
            from: mail.from,
            subject: mail.subject,
            body: mail.body,
            ...(mail.quoted && { quoted: mail.quoted }),
            ...(mail.html && { html: mail.html }),
            ...(attachments.length > 0 && { attachments }),
            ...(mail.messageId && { messageId: mail.messageId }),
            ...(mail.robot && { robot: mail.robot }),
          }),
        // What a stranger writes is the inquiry itself; only files need a place of their own.
        also: attachments.length > 0 || !!mail.html,
      };
    }
    if (source.channel !== "text") return null;
    const { phone, message } = parsed.fields;
    if (!phone || !message || !inquiryId) return null;
    const number = toE164(phone);
    const last = number ? looker.lastWrittenTo(number, source.line ?? null) : null;
    const found =
      last && (last.onLine ? "the last we wrote to from this line" : "the last we wrote to at this number");
    const text = (world: World) =>
      hearFrom(world, {
        channel: "text",
        from: number ?? phone,
        subject: null,
        body: message,
        ...(found && { found }),
      });
    return { leadId: last?.leadId ?? null, decide: text, also: false };
  }

  /** Count arrivals that came another way than one by one: a spreadsheet's rows. */
  countArrivals(sourceId: string, at: number, n: number): void {
    if (n > 0) this.#arrived.run(sourceId, Math.floor(at / HOUR) * HOUR, n);
  }

  /** Whether an inquiry from the quarantine is still there. */
  isQuarantined(inquiryId: string): boolean {
    const { q } = this.#parts.sql;
    return !!this.#parts.sql.get(
      q
        .selectFrom("inquiries")
        .select("id")
        .where("id", "=", inquiryId)
        .where("state", "=", raw.lit("quarantined")),
    );
  }
}

interface Reply {
  /** The lead whose conversation it continues, by itself. */
  readonly leadId: string | null;
  readonly decide: (world: World) => Decided;
  /** Whether it is also done to a lead it has just made. */
  readonly also: boolean;
}

function withLine(call: CallReport, source: Source) {
  return { ...call, line: source.line ?? "" };
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

type Made =
  | { readonly plans: readonly Plan[]; readonly n: number }
  /** `held`: it could be read, and somebody may insist on it. */
  | { readonly reason: string; readonly held?: true };
