import { toE164 } from "../../core/contact/phone.ts";
import { calledIn } from "../../core/desk/call.ts";
import { hearFrom } from "../../core/desk/hear.ts";
import type { Decided, Plan, World } from "../../core/desk/plan.ts";
import { type Inquiry, receive } from "../../core/desk/receive.ts";
import { offeredLast, readTextBack, textBack } from "../../core/desk/text-back.ts";
import type { Fields } from "../../core/intake/fields.ts";
import { understand } from "../../core/intake/understand.ts";
import type { InquiryFacts } from "../../core/lead/inquiry.ts";
import { CONVERSATION } from "../../core/policy/field-names.ts";
import type { Person } from "../../core/policy/people.ts";
import type { Source } from "../../core/policy/source.ts";
import type { Attachment } from "../../core/vocabulary.ts";
import type { Engine } from "../engine/engine.ts";
import type { Receipts } from "../messages/receipts.ts";
import { type CallReport, readCall } from "./call.ts";
import type { Parsed } from "./payload.ts";

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
  /** What somebody corrected it to, by names every mapping understands: said instead of what came. */
  readonly corrected?: Fields;
  /** Why it waits in quarantine although it can be read: it looks like spam. */
  readonly held?: string | null;
}

/** What is answered to texts of our own people that are no command, or come too late. */
const TEXT_HELP =
  "Text 1 to take the lead offered to you, or 2 and a reason to pass it on. To reach a lead, write from the desk.";
const NOTHING_OFFERED = "Nothing is offered to you just now: it was taken, passed on, or its time ran out.";

export type Made =
  | { readonly plans: readonly Plan[]; readonly n: number }
  /** `held`: it could be read, and somebody may insist on it. */
  | { readonly reason: string; readonly held?: true };

/** Works one inquiry after the other: understands it, finds whose it is, decides and commits. */
export class InquiryWorker {
  readonly #engine: Engine;
  readonly #receipts: Receipts;

  constructor(engine: Engine, receipts: Receipts) {
    this.#engine = engine;
    this.#receipts = receipts;
  }

  /** Understand, match, decide and commit one inquiry. Call it inside a transaction. */
  work(inquiryId: string, source: Source, parsed: Parsed, manner: Manner = {}): Made {
    const { looker } = this.#engine;
    if (manner.corrected) return this.#takeCorrected(inquiryId, source, parsed, manner.corrected);
    const course = parsed.ok && parsed.mail?.report && this.#receipts.ofMail(parsed.mail.report);
    if (course) {
      const made = this.#decide([[course.leadId, course.decide]]);
      course.also();
      return made;
    }
    if (!manner.test && !manner.insisted) {
      if (source.state === "paused")
        return {
          reason: `${source.name} is paused. It is kept here; put the source live again and try it again.`,
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
        reason: `A machine wrote this (${robot}), so it made no lead. Take it in as it is if a person is behind it.`,
        held: true,
      };
    if (!understood.ok) return { reason: understood.reason };
    const made = this.#receive(
      inquiryId,
      source,
      understood.facts,
      match,
      manner,
      parsed.mail?.robot ?? null,
    );
    return this.#withRest(made, source, parsed.fields, reply);
  }

  /** What is more of an inquiry than its facts: the conversation it begins, and what a call or a mail with files is besides. */
  #withRest(made: Made, source: Source, fields: Fields, reply: Reply | null): Made {
    if ("reason" in made) return made;
    const { looker, commit } = this.#engine;
    const { leadId } = made.plans[0]!;
    this.#keepConversation(source, fields, leadId);
    // The lead first, then what came with it.
    const then = reply?.also ? reply.decide(looker.look(leadId)) : null;
    if (!then?.ok || then.plan.events.length === 0) return made;
    return { plans: [...made.plans, then.plan], n: commit(then.plan) };
  }

  /** Decide and commit what is understood. `robot` is why nothing answers it on its own. */
  #receive(
    inquiryId: string,
    source: Source,
    facts: InquiryFacts,
    match: { readonly leadId: string; readonly on: string } | null,
    manner: Manner,
    robot: string | null = null,
  ): Made {
    const { looker, commit } = this.#engine;
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
      ...(robot && { unanswered: robot }),
    };
    const decided = receive(looker.look(match?.leadId ?? null), inquiry);
    if (!decided.ok) return { reason: decided.problem.detail };
    return { plans: [decided.plan], n: commit(decided.plan) };
  }

  /** What somebody has read and corrected is an inquiry of their word, whatever came and whatever spoke against it. */
  #takeCorrected(inquiryId: string, source: Source, parsed: Parsed, corrected: Fields): Made {
    const { looker } = this.#engine;
    const plain = { ...source, mapping: { ...source.mapping, fields: {}, joins: [] } };
    const understood = understand(plain, looker.setup.policies, corrected);
    if (!understood.ok) return { reason: understood.reason };
    const { facts } = understood;
    const made = this.#receive(inquiryId, source, facts, this.#matchOf(facts, {}), {});
    return parsed.ok
      ? this.#withRest(made, source, parsed.fields, this.#replyOf(inquiryId, source, parsed))
      : made;
  }

  /** The lead it surely belongs to. A test is no news of anybody's, even where whoever tests was a lead once. */
  #matchOf({ phones, emails }: InquiryFacts, { test }: Manner) {
    const { looker } = this.#engine;
    const match = looker.match([...phones, ...emails]);
    return match && test && !looker.lead(match.leadId)?.test ? null : match;
  }

  /**
   * What one of our own people sends by a text, a call or a mail: they are no lead, whatever they send. A text may take or
   * pass what is offered to them, and is answered in any case. Null when it is from nobody of ours.
   */
  #fromOurs(inquiryId: string, source: Source, parsed: Parsed & { ok: true }): Made | null {
    const { looker } = this.#engine;
    const { phone, message } = parsed.fields;
    const calls = source.channel === "text" || source.channel === "call";
    const number = calls && phone ? toE164(phone, looker.setup.policies.company.country) : null;
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
    const { reader } = this.#engine;
    const said = readTextBack(message);
    const lead = said && offeredLast(reader.theirs(person.id), person.id);
    if (said && lead) return this.#decide([[lead.id, (world) => textBack(world, person.id, said)]]);
    this.#tell(inquiryId, person, said ? NOTHING_OFFERED : TEXT_HELP);
    return {
      reason: said
        ? `${person.name} texted “${message}”, but nothing is offered to them now. They were told so.`
        : `${person.name} texted “${message.slice(0, 300)}”: one of us, and no lead. They were told what they can text.`,
      held: true,
    };
  }

  /** Text one of our own people. */
  #tell(inquiryId: string, person: Person, body: string): void {
    this.#engine.queueNotice({
      channel: "text",
      to: person.phone,
      personId: person.id,
      key: `own-text:${inquiryId}`,
      subject: null,
      body,
      purpose: "answer",
    });
    this.#engine.outbox.kick();
  }

  /** A message in a conversation the desk knows already. */
  #chatOf(source: Source, fields: Fields): Reply | null {
    const { sql, looker } = this.#engine;
    const chat = chatIn(source, fields);
    const known =
      chat &&
      sql.get(
        sql.q
          .selectFrom("conversations")
          .select("leadId")
          .where("sourceId", "=", source.id)
          .where("conversation", "=", chat.conversation),
      );
    if (!chat || !known) return null;
    const said = {
      channel: "chat",
      from: fields.name ?? source.name,
      subject: null,
      body: chat.message,
    } as const;
    return { leadId: looker.survivor(known.leadId), decide: (world) => hearFrom(world, said), also: false };
  }

  /** What comes next in a conversation is the same lead's, whoever it says they are. */
  #keepConversation(source: Source, fields: Fields, leadId: string): void {
    const { sql } = this.#engine;
    const chat = chatIn(source, fields);
    if (!chat) return;
    const row = { sourceId: source.id, conversation: chat.conversation, leadId };
    sql.run(
      sql.q
        .insertInto("conversations")
        .values(row)
        .onConflict((c) => c.columns(["sourceId", "conversation"]).doUpdateSet({ leadId })),
    );
  }

  #decide(steps: readonly (readonly [string, (world: World) => Decided])[]): Made {
    const plans: Plan[] = [];
    let n = 0;
    for (const [leadId, decide] of steps) {
      const decided = decide(this.#engine.looker.look(leadId));
      if (!decided.ok) return { reason: decided.problem.detail };
      n = this.#engine.commit(decided.plan);
      plans.push(decided.plan);
    }
    return { plans, n };
  }

  /** What a call, a text or a mail is to a lead that is known already; null when it is none of these. */
  #replyOf(inquiryId: string, source: Source, parsed: Parsed & { ok: true }): Reply | null {
    const { files, links, looker } = this.#engine;
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
    if (source.channel === "chat") return this.#chatOf(source, parsed.fields);
    if (source.channel !== "text") return null;
    const { phone, message } = parsed.fields;
    if (!phone || !message || !inquiryId) return null;
    const number = toE164(phone, looker.setup.policies.company.country);
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
}

/** The message of a chat and the conversation it is part of; null when it does not say. */
function chatIn(
  source: Source,
  fields: Fields,
): { readonly message: string; readonly conversation: string } | null {
  const conversation = source.channel === "chat" && fields[CONVERSATION];
  return conversation && fields.message ? { message: fields.message, conversation } : null;
}

interface Reply {
  /** The lead whose conversation it continues, on its own. */
  readonly leadId: string | null;
  readonly decide: (world: World) => Decided;
  /** Whether it is also done to a lead it has just made. */
  readonly also: boolean;
}

function withLine(call: CallReport, source: Source) {
  return { ...call, line: source.line ?? "" };
}
