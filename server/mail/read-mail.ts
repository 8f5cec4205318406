import { type HtmlToTextOptions, convert as htmlToText } from "html-to-text";
import { type ParsedMail, simpleParser } from "mailparser";
import sanitizeHtml from "sanitize-html";
import { toEmail } from "../../core/contact/email.ts";
import { looksLikeAdf, looksLikeVcard } from "../../core/intake/documents.ts";
import { type Recipient, readDeliveryStatus } from "../../core/message/delivery-report.ts";
import { foldQuoted, robotReason } from "../../core/message/robot.ts";

/** What a mail server reports of one of our mails. */
export interface MailReport {
  /** The Message-ID of the mail it is about. */
  readonly about: string;
  readonly recipients: readonly Recipient[];
}

/** A mail as it came, taken apart. */
export interface Mail {
  readonly from: string;
  readonly fromName: string | null;
  readonly to: readonly string[];
  readonly subject: string | null;
  readonly body: string;
  readonly quoted: string;
  /** Cleaned: no script, no style, nothing that is fetched from elsewhere. */
  readonly html: string | null;
  readonly messageId: string | null;
  /** Message-IDs this mail answers, the nearest first. */
  readonly answers: readonly string[];
  readonly robot: string | null;
  /** What it says became of a mail of ours, when it is a delivery report (RFC 3464). */
  readonly report: MailReport | null;
  readonly files: readonly { readonly name: string; readonly type: string; readonly bytes: Buffer }[];
  /** A lead document it carries in its body or attached. */
  readonly document: string | null;
}

/** The most of a mail's words that is shown (characters); the original has all of them. */
const MOST_TEXT = 200_000;
/** HTML up to this size and depth is shown; beyond it, it comes along as a file. Letters of people are far below. */
const MOST_HTML = 500_000;
const DEEPEST = 100;
/** So many files are kept one by one; the original has all. */
const MOST_FILES = 50;
/** So many Message-IDs of a mail's history are looked up. */
const MOST_ANSWERED = 50;
/** A longer name of a mail is no name (characters, with its angle brackets). */
const LONGEST_ID = 502;

const TAGS =
  "p br div span b strong i em u s a ul ol li blockquote pre code h1 h2 h3 h4 table thead tbody tr td th hr".split(
    " ",
  );
/** Letters as text: lines as they were, and no pictures. */
const AS_TEXT: HtmlToTextOptions = {
  wordwrap: false,
  selectors: [
    { selector: "img", format: "skip" },
    { selector: "a", options: { hideLinkHrefIfSameAsText: true } },
  ],
};

/** Tags that are never closed. */
const VOID = new Set("area base br col embed hr img input link meta source track wbr".split(" "));

/**
 * HTML of a stranger made safe to show: a short list of tags, links that open elsewhere, no pictures from outside (they
 * tell that and when it was read), no style, no script.
 */
export function cleanHtml(html: string): string {
  return sanitizeHtml(html, {
    allowedTags: TAGS,
    allowedAttributes: { a: ["href", "rel", "target"] },
    allowedSchemes: ["http", "https", "mailto", "tel"],
    disallowedTagsMode: "discard",
    transformTags: {
      a: sanitizeHtml.simpleTransform("a", { rel: "noreferrer noopener nofollow", target: "_blank" }),
    },
  });
}

/** Whether HTML is small and shallow enough to be cleaned: cleaning takes the time of size times depth. Linear. */
export function isShowable(html: string): boolean {
  if (html.length > MOST_HTML) return false;
  let depth = 0;
  for (const [, close, name = ""] of html.matchAll(/<(\/?)([a-z][a-z0-9]*)/gi)) {
    if (VOID.has(name.toLowerCase())) continue;
    depth = close ? Math.max(0, depth - 1) : depth + 1;
    if (depth > DEEPEST) return false;
  }
  return true;
}

/** The words of HTML that is too large or too deep to be cleaned: everything outside its tags. Linear. */
function wordsOf(html: string): string {
  const parts: string[] = [];
  for (let at = 0; at < html.length && parts.length < 20_000; ) {
    const open = html.indexOf("<", at);
    parts.push(html.slice(at, open < 0 ? undefined : open));
    const end = open < 0 ? -1 : html.indexOf(">", open);
    if (end < 0) break;
    at = end + 1;
  }
  return parts
    .join(" ")
    .slice(0, MOST_TEXT)
    .replace(/[ \t]+/g, " ")
    .trim();
}

/**
 * Take a mail (RFC 5322 with MIME) apart. Never rejects on odd mail: what cannot be read is empty. `plain` leaves HTML
 * alone and hands it on as a file: for a mail whose HTML could not be read in time.
 */
export async function readMail(raw: Buffer, returnPath: string | null, plain = false): Promise<Mail> {
  const mail = await simpleParser(raw, {
    skipImageLinks: true,
    skipTextToHtml: true,
    skipHtmlToText: true,
    keepDeliveryStatus: true,
  });
  const headers = Object.fromEntries(
    mail.headerLines.map((h) => [h.key, h.line.slice(h.key.length + 1).trim()]),
  );
  const sender = mail.replyTo?.value[0] ?? mail.from?.value[0];
  const from = toEmail(sender?.address ?? "") ?? "";
  const html = mail.html || null;
  const shown = html !== null && !plain && isShowable(html);
  const text = mail.text || (html === null ? "" : shown ? htmlToText(html, AS_TEXT) : wordsOf(html));
  const { body, quoted } = foldQuoted(text.slice(0, MOST_TEXT));
  const references = [mail.references ?? []].flat().slice(-MOST_ANSWERED);
  const path = returnPath ?? headers["return-path"] ?? null;
  return {
    from,
    fromName: mail.from?.value[0]?.name?.trim().slice(0, 200) || null,
    to: [mail.to ?? []].flat().flatMap((t) => t.value.flatMap((v) => toEmail(v.address ?? "") ?? [])),
    subject: mail.subject?.trim().slice(0, 1_000) || null,
    body,
    quoted,
    html: shown ? cleanHtml(html) : null,
    messageId: mail.messageId?.slice(0, 1_000) ?? null,
    answers: [...new Set([mail.inReplyTo, ...references.reverse()].filter((id): id is string => !!id))],
    robot: robotReason(headers, path, from),
    report: reportOf(mail.attachments),
    files: [
      ...mail.attachments.slice(0, MOST_FILES).map((a, i) => ({
        name: a.filename ?? `attachment ${i + 1}`,
        type: a.contentType,
        bytes: a.content,
      })),
      ...(html !== null && !shown
        ? [{ name: "mail.html", type: "text/html", bytes: Buffer.from(html) }]
        : []),
    ],
    document: documentOf(text, mail.attachments),
  };
}

/** What the first lines of a mail say, when the rest cannot be read: the mail itself comes along as a file. */
export function mailHead(raw: Buffer, returnPath: string | null): Mail {
  const [head = ""] = raw
    .subarray(0, 65_536)
    .toString("latin1")
    .split(/\r?\n\r?\n/, 1);
  const headers: Record<string, string> = {};
  for (const line of head.split(/\r?\n(?![ \t])/)) {
    const colon = line.indexOf(":");
    if (colon > 0)
      headers[line.slice(0, colon).toLowerCase()] ??= line
        .slice(colon + 1)
        .trim()
        .slice(0, 1_000);
  }
  const from = toEmail(headers["reply-to"] ?? headers.from ?? "") ?? "";
  return {
    from,
    fromName: null,
    to: [],
    subject: headers.subject || null,
    body: "This mail could not be read in time. It is attached as it came.",
    quoted: "",
    html: null,
    messageId: headers["message-id"] ?? null,
    answers: headers["in-reply-to"] ? [headers["in-reply-to"]] : [],
    robot: robotReason(headers, returnPath, from),
    report: null,
    files: [{ name: "mail.eml", type: "message/rfc822", bytes: raw }],
    document: null,
  };
}

/** The Message-ID among the first lines of a returned mail. */
function messageIdOf(head: string): string | null {
  for (const line of head.split(/\r?\n/)) {
    if (line === "") return null;
    const [, id] = /^message-id:\s*(<[^>\s]+>)/i.exec(line) ?? [];
    if (id && id.length <= LONGEST_ID) return id;
  }
  return null;
}

/** What a delivery report says of which mail; null for any other mail. Source: RFC 6522 (its parts). */
function reportOf(parts: ParsedMail["attachments"]): MailReport | null {
  const status = parts.find((p) => p.contentType === "message/delivery-status");
  const returned = parts.find((p) => /^(message\/rfc822|text\/rfc822-headers)$/.test(p.contentType));
  if (!status || !returned) return null;
  const headOf = ({ content }: ParsedMail["attachments"][number]) =>
    content.subarray(0, 65_536).toString("utf8");
  const id = messageIdOf(headOf(returned));
  const recipients = readDeliveryStatus(headOf(status));
  return id && recipients.length > 0 ? { about: id, recipients } : null;
}

function documentOf(text: string, attachments: ParsedMail["attachments"]): string | null {
  for (const { contentType, filename, content } of attachments.slice(0, MOST_FILES)) {
    if (!/xml|vcard|text\/|octet-stream/.test(contentType) && !/\.(xml|adf|vcf)$/i.test(filename ?? ""))
      continue;
    if (content.length > 1_048_576) continue;
    const inside = content.toString("utf8");
    if (looksLikeAdf(inside) || looksLikeVcard(inside)) return inside;
  }
  const trimmed = text.slice(0, 1_048_576).trim();
  const start = trimmed.search(/<\?xml|<adf[\s>]/i);
  if (start >= 0 && looksLikeAdf(trimmed.slice(start))) return trimmed.slice(start);
  return looksLikeVcard(trimmed) ? trimmed : null;
}
