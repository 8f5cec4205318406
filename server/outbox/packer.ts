import { asItLeaves } from "../../core/message/cards.ts";
import { type Letter, letterHtml, letterText } from "../../core/message/letter.ts";
import { exchangeLinks, exchanging } from "../../core/message/links.ts";
import {
  BOOKING,
  FIGURES_LETTER,
  LINK,
  type ManageLink,
  type TakeLink,
  TO_LEADS,
} from "../../core/message/outgoing.ts";
import type { Setup } from "../../core/policy/setup.ts";
import type { Attachment } from "../../core/vocabulary.ts";
import type { Parcel } from "../channels/channel.ts";
import type { Sql } from "../db/sql.ts";
import type { Files } from "../files/files.ts";
import type { Links } from "../links.ts";
import type { Row } from "./outbox.ts";

interface Parts {
  readonly sql: Sql;
  readonly links: Links;
  readonly files: Files;
  readonly setup: () => Setup;
  /** Epoch ms. */
  readonly now: () => number;
}

/** Messages to a lead: their links are ours and tell when they are opened. */
const OF_LEADS: ReadonlySet<string> = new Set(TO_LEADS);

/** Whether a message goes to the lead it is about. */
export const goesToLead = ({ leadId, purpose }: Pick<Row, "leadId" | "purpose">): boolean =>
  leadId !== null && OF_LEADS.has(purpose);

/** Messages nobody wrote that may be ended with one press. */
const ENDABLE: ReadonlySet<string> = new Set(["first-reply", "slow", "cadence"]);

/** What is bold in a chat, as a letter writes it. */
const fromChat = (body: string): string => body.replace(/^\*([^*\n]+)\*$/gm, "**$1**");

/** The Message-ID a mail of ours carries. */
export const mailIdOf = (
  { leadId, key, fromAddress }: Pick<Row, "leadId" | "key" | "fromAddress">,
  links: Links,
) => links.mailId(leadId ?? "desk", key, fromAddress.split("@")[1] ?? "localhost");

/**
 * Makes messages ready to leave. The same message is always packed the same, so that a repeat can be told; only an alert
 * that leaves late says so.
 */
export function packer({ sql, links, files, setup, now }: Parts): (row: Row) => Parcel {
  const { q } = sql;
  const known = sql.hot(
    q.selectFrom("shortLinks").select("n").where("messageId", "=", "").where("url", "=", ""),
  );
  const add = sql.hot(q.insertInto("shortLinks").values({ messageId: "", leadId: "", url: "" }));

  const shorten = (row: Row, url: string): string => {
    const before = known.get(row.id, url);
    return links.short(before ? before.n : Number(add.run(row.id, row.leadId, url).lastInsertRowid));
  };

  return (row) => {
    const offer = row.linkJson ? (JSON.parse(row.linkJson) as TakeLink | ManageLink) : null;
    const opens = row.body.includes(LINK) && row.leadId;
    const url = offer
      ? "manage" in offer
        ? links.manage(offer)
        : links.take(offer)
      : opens
        ? links.lead(row.leadId!)
        : null;
    const toLead = goesToLead(row);
    const isMail = row.channel === "email";
    const said = toLead ? row.body.replaceAll(BOOKING, () => links.booking(row.leadId!)) : row.body;
    const shortened = (to: string) => shorten(row, to);
    const written = toLead && !isMail ? exchangeLinks(said, shortened) : said;
    // The last one: what stands before it may be words of somebody outside.
    const at = url ? written.lastIndexOf(LINK) : -1;
    const linked = url && at >= 0 ? written.slice(0, at) + url + written.slice(at + LINK.length) : written;
    const body = toLead ? linked : asItLeaves(linked, setup().policies.desk.zone, now());
    const unsubscribeUrl =
      isMail && row.leadId && ENDABLE.has(row.purpose) ? links.unsubscribe(row.leadId) : null;
    const { name, logo } = setup().policies.company;
    const because = unsubscribeUrl ? `You get this because you contacted ${name}.` : null;
    const letter: Letter = {
      company: name,
      body: toLead ? body : fromChat(body),
      unsubscribeUrl,
      because,
      isDrawn: row.purpose === FIGURES_LETTER,
      logo: logo ? links.page(`/logo/${logo.fileId}`) : null,
      ...(toLead && { exchange: exchanging(shortened) }),
    };
    const attachments = row.attachmentsJson ? (JSON.parse(row.attachmentsJson) as Attachment[]) : [];
    return {
      ...row,
      body: isMail ? letterText(letter) : body,
      html: isMail ? letterHtml(letter) : null,
      url,
      unsubscribeUrl,
      messageId: isMail ? mailIdOf(row, links) : null,
      headers: row.headersJson ? (JSON.parse(row.headersJson) as Parcel["headers"]) : {},
      files: attachments.map(({ fileId, name: called, type }) => {
        const kept = files.read(fileId);
        if (!kept) throw new Error(`The file ${called} is gone.`);
        const isShown = letter.isDrawn && row.body.includes(`(cid:${fileId})`);
        return { name: called, type, content: kept.bytes, ...(isShown && { cid: fileId }) };
      }),
    };
  };
}
