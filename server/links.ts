import { createHash, createHmac } from "node:crypto";
import type { ManageLink, TakeLink } from "../core/message/outgoing.ts";
import { sameText } from "./same-text.ts";

/** Signs and reads the links that let one person take or pass one offer without signing in. HMAC-SHA-256. */
export class Links {
  readonly #secret: string;
  readonly #base: string;

  /** `base` is the address people reach this server at, without a trailing slash. */
  constructor(secret: string, base: string) {
    this.#secret = secret;
    this.#base = base;
  }

  #sign(payload: string): string {
    return createHmac("sha256", this.#secret).update(payload).digest("base64url");
  }

  /** The address of the page on which the person takes or passes. */
  take(link: TakeLink): string {
    const payload = Buffer.from(
      JSON.stringify([link.leadId, link.handOffId, link.personId, link.until]),
    ).toString("base64url");
    return `${this.#base}/t/${payload}.${this.#sign(payload)}`;
  }

  /** The short address of a page that a message names, by its number. */
  short(n: number): string {
    const code = n.toString(36);
    return `${this.#base}/l/${code}${this.#sign(`short.${code}`).slice(0, 4)}`;
  }

  /** The number a short code stands for; null when it was not made by us. */
  readShort(code: string): number | null {
    const [, which = "", signature = ""] = /^([0-9a-z]+?)([\w-]{4})$/.exec(code) ?? [];
    if (!which || !sameText(signature, this.#sign(`short.${which}`).slice(0, 4))) return null;
    return Number.parseInt(which, 36);
  }

  /** Where a lead books, moves or calls off a call. */
  booking(leadId: string): string {
    return `${this.#base}/b/${leadId}.${this.#sign(`booking.${leadId}`).slice(0, 22)}`;
  }

  /** The lead a token for booking names; null when it was not made by us. */
  readBooking(token: string): string | null {
    return this.#readNamed(token, "booking");
  }

  #readNamed(token: string, what: string): string | null {
    const [leadId = "", signature = ""] = token.split(".");
    return leadId && sameText(signature, this.#sign(`${what}.${leadId}`).slice(0, 22)) ? leadId : null;
  }

  /** Where a lead sees an estimate and answers it. */
  estimate(estimateId: string): string {
    return `${this.#base}/e/${estimateId}.${this.#sign(`estimate.${estimateId}`).slice(0, 22)}`;
  }

  /** The estimate a token names; null when it was not made by us. */
  readEstimate(token: string): string | null {
    return this.#readNamed(token, "estimate");
  }

  /** Where a lead ends the mails that come on their own. */
  unsubscribe(leadId: string): string {
    return `${this.#base}/u/${leadId}.${this.#sign(`unsubscribe.${leadId}`).slice(0, 22)}`;
  }

  /** The lead a token for ending mails names; null when it was not made by us. */
  readUnsubscribe(token: string): string | null {
    return this.#readNamed(token, "unsubscribe");
  }

  /** The name a lead's browser may be known by on the company's own pages, once it has come by a link of ours. */
  visitor(leadId: string): string {
    return `${leadId}.${this.#sign(`visitor.${leadId}`).slice(0, 22)}`;
  }

  /** The lead a visitor's name stands for; null when it was not made by us. */
  readVisitor(name: string): string | null {
    return this.#readNamed(name, "visitor");
  }

  /** Where one manager sees to one lead that rings, until the link ends. */
  manage({ leadId, personId, until }: ManageLink): string {
    const payload = Buffer.from(JSON.stringify([leadId, personId, until])).toString("base64url");
    return `${this.#base}/m/${payload}.${this.#sign(`manage.${payload}`)}`;
  }

  /** What a manager's link names; null when it was not made by us. Whether it is still good is told by its end. */
  readManage(token: string): ManageLink | null {
    const [payload = "", signature = ""] = token.split(".");
    if (!sameText(signature, this.#sign(`manage.${payload}`))) return null;
    const said = JSON.parse(Buffer.from(payload, "base64url").toString()) as [string, string, number?];
    // Links of earlier versions had no end: theirs has come.
    const [leadId, personId, until = 0] = said;
    return { manage: true, leadId, personId, until };
  }

  /** A page of the desk, such as `/list`. */
  page(path: string): string {
    return `${this.#base}${path}`;
  }

  /** The address of a lead on the desk. */
  lead(leadId: string): string {
    return `${this.#base}/?lead=${leadId}`;
  }

  /** What a token says, or null when it was not signed by us. Whether it is still of use is the lead's to say. */
  read(token: string): TakeLink | null {
    const [payload = "", signature = ""] = token.split(".");
    if (!sameText(signature, this.#sign(payload))) return null;
    const [leadId, handOffId, personId, until] = JSON.parse(Buffer.from(payload, "base64url").toString()) as [
      string,
      string,
      string,
      number,
    ];
    return { leadId, handOffId, personId, until };
  }

  /**
   * The Message-ID of a mail to a lead: made from its key, so that a repeat carries the same, and naming its lead,
   * so that an answer finds its conversation for ever, whatever subject or address it comes with.
   */
  mailId(leadId: string, key: string, domain: string): string {
    const which = createHash("sha256").update(key).digest("base64url").slice(0, 16);
    return `<${leadId}.${which}.${this.#sign(`${leadId}.${which}`).slice(0, 16)}@${domain}>`;
  }

  /** The lead that a Message-ID of ours names; null when it was not made by us. */
  leadOfMail(messageId: string): string | null {
    const [, leadId = "", which = "", signature = ""] =
      /^<?([^.@<>]+)\.([\w-]{16})\.([\w-]{16})@[^@]+>?$/.exec(messageId.trim()) ?? [];
    return leadId && sameText(signature, this.#sign(`${leadId}.${which}`).slice(0, 16)) ? leadId : null;
  }
}
