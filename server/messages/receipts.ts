import { z } from "zod";
import { whyFailed } from "../../core/message/delivery-report.ts";
import type { Course, Engine } from "../engine/engine.ts";
import type { MailReport } from "../mail/read-mail.ts";
import { mailIdOf } from "../outbox/packer.ts";

/** What a gateway says of a text it has taken: `message_key` is the `Idempotency-Key` it came with. */
export const TextReceipt = z.object({
  message_key: z.string().min(1).max(300),
  state: z.enum(["delivered", "failed"]),
  /** Why it failed, in words. */
  because: z.string().optional(),
});
export type TextReceipt = z.infer<typeof TextReceipt>;

/** What becomes of our messages after they have left, as those say who carry them. */
export class Receipts {
  readonly #engine: Engine;

  constructor(engine: Engine) {
    this.#engine = engine;
  }

  /** A gateway's receipt. False when the key is none of ours. Saying it twice changes nothing. */
  ofText({ message_key, state, because }: TextReceipt): boolean {
    const { sql } = this.#engine;
    const { q } = sql;
    const row = sql.get(
      q.selectFrom("outbox").selectAll().where("key", "=", message_key).where("channel", "=", "text"),
    );
    if (!row) return false;
    const cut = because?.trim().slice(0, 300).replace(/\.$/, "") || "the gateway gave no reason";
    this.#engine.follow(this.#engine.courseOf(row, state === "delivered" ? null : cut));
    return true;
  }

  /**
   * What a mail server's report comes to, for whoever commits it. Null when it is about none of ours (the Message-ID is
   * signed, so nobody can make one up) or only says that the mail is still under way.
   */
  ofMail({ about, recipients }: MailReport): (Course & { readonly leadId: string }) | null {
    const { links, sql, looker } = this.#engine;
    const named = links.leadOfMail(about);
    if (!named || !looker.lead(named)) return null;
    const { q } = sql;
    const mails = sql.all(
      q.selectFrom("outbox").selectAll().where("leadId", "=", named).where("channel", "=", "email"),
    );
    const row = mails.find((mail) => mailIdOf(mail, links) === about);
    const said = recipients.find((r) => r.action === "failed") ?? recipients[0];
    // Under way still, or handed to a server that reports nothing: neither is the end of it.
    if (!row || (said?.action !== "failed" && said?.action !== "delivered")) return null;
    const course = this.#engine.courseOf(row, said.action === "failed" ? whyFailed(said) : null);
    return { ...course, leadId: looker.survivor(named) };
  }

  /** Take in a mail server's report that came by itself. False when it is about none of ours. */
  takeMail(report: MailReport): boolean {
    const course = this.ofMail(report);
    if (course) this.#engine.follow(course);
    return course !== null;
  }
}
