import { simpleParser } from "mailparser";
import sanitizeHtml from "sanitize-html";
import { toEmail } from "../../core/contact/email.ts";
import { looksLikeAdf, looksLikeVcard } from "../../core/intake/documents.ts";
import { foldQuoted, robotReason } from "../../core/message/robot.ts";

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
  readonly files: readonly { readonly name: string; readonly type: string; readonly bytes: Buffer }[];
  /** A lead document it carries in its body or attached. */
  readonly document: string | null;
}

const TAGS =
  "p br div span b strong i em u s a ul ol li blockquote pre code h1 h2 h3 h4 table thead tbody tr td th hr".split(
    " ",
  );

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

/** Take a mail (RFC 5322 with MIME) apart. Never rejects on odd mail: what cannot be read is empty. */
export async function readMail(raw: Buffer, returnPath: string | null): Promise<Mail> {
  const mail = await simpleParser(raw, { skipImageLinks: true, skipTextToHtml: true });
  const headers = Object.fromEntries(
    mail.headerLines.map((h) => [h.key, h.line.slice(h.key.length + 1).trim()]),
  );
  const sender = mail.replyTo?.value[0] ?? mail.from?.value[0];
  const from = toEmail(sender?.address ?? "") ?? "";
  const text =
    mail.text ?? (mail.html ? sanitizeHtml(mail.html, { allowedTags: [], allowedAttributes: {} }) : "");
  const { body, quoted } = foldQuoted(text.slice(0, 200_000));
  const references = [mail.references ?? []].flat();
  const path = returnPath ?? headers["return-path"] ?? null;
  return {
    from,
    fromName: mail.from?.value[0]?.name?.trim() || null,
    to: [mail.to ?? []].flat().flatMap((t) => t.value.flatMap((v) => toEmail(v.address ?? "") ?? [])),
    subject: mail.subject?.trim() || null,
    body,
    quoted,
    html: mail.html ? cleanHtml(mail.html) : null,
    messageId: mail.messageId ?? null,
    answers: [...new Set([mail.inReplyTo, ...[...references].reverse()].filter((id): id is string => !!id))],
    robot: robotReason(headers, path, from),
    files: mail.attachments.map((a, i) => ({
      name: a.filename ?? `attachment ${i + 1}`,
      type: a.contentType,
      bytes: a.content,
    })),
    document: documentOf(text, mail.attachments),
  };
}

function documentOf(
  text: string,
  attachments: readonly { contentType: string; filename?: string; content: Buffer }[],
): string | null {
  for (const { contentType, filename, content } of attachments) {
    if (!/xml|vcard|text\/|octet-stream/.test(contentType) && !/\.(xml|adf|vcf)$/i.test(filename ?? ""))
      continue;
    if (content.length > 1_048_576) continue;
    const inside = content.toString("utf8");
    if (looksLikeAdf(inside) || looksLikeVcard(inside)) return inside;
  }
  const trimmed = text.trim();
  const start = trimmed.search(/<\?xml|<adf[\s>]/i);
  if (start >= 0 && looksLikeAdf(trimmed.slice(start))) return trimmed.slice(start);
  return looksLikeVcard(trimmed) ? trimmed : null;
}
