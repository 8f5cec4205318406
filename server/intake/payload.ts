import { looksLikeAdf, looksLikeVcard, type Read, readAdf, readVcard } from "../../core/intake/documents.ts";
import { bounded, type Fields, flatten, MOST_ANSWERS } from "../../core/intake/fields.ts";
import { type Mail, readMail } from "../mail/read-mail.ts";

/** A payload as it came over the wire. */
export interface Delivery {
  readonly contentType: string;
  readonly headers: Readonly<Record<string, string>>;
  readonly raw: Buffer;
}

export type Parsed =
  | {
      readonly ok: true;
      readonly fields: Fields;
      /** Further people in the same document. */
      readonly more?: readonly Fields[];
      /** The mail it was, when it came by mail. */
      readonly mail?: Mail;
    }
  | { readonly ok: false; readonly reason: string; readonly mail?: Mail };

/**
 * Bring a payload to named answers by its content type (JSON, form-encoded, multipart, ADF/XML, vCard, mail). What
 * cannot be read is not an error of the server but a reason, in a sentence, for the quarantine. Never rejects.
 */
export async function parsePayload({ contentType, headers, raw }: Delivery): Promise<Parsed> {
  const type = contentType.split(";")[0]!.trim().toLowerCase();
  try {
    if (type === "message/rfc822") return fromMail(await readMail(raw, headers["return-path"] ?? null));
    if (type === "application/x-www-form-urlencoded") return named(formFields(raw.toString("utf8")));
    if (type === "multipart/form-data") return await multipart(contentType, raw);
    const text = raw.toString("utf8");
    if (/[/+]xml$/.test(type) || looksLikeAdf(text)) return documents(readAdf(text));
    if (/vcard/.test(type) || looksLikeVcard(text)) return documents([readVcard(text)]);
    if (type === "" || type.endsWith("json") || type.startsWith("text/"))
      return named(flatten(JSON.parse(text)));
  } catch (error) {
    const said = error instanceof Error ? error.message : String(error);
    return { ok: false, reason: `It could not be read as ${type || "JSON"}: ${said}. The original is kept.` };
  }
  return { ok: false, reason: `There is no reader for “${type}” yet. The original is kept.` };
}

function named(fields: Fields): Parsed {
  const kept = bounded(fields);
  return kept ? { ok: true, fields: kept } : TOO_MANY;
}

const TOO_MANY = {
  ok: false,
  reason: `It has more than ${MOST_ANSWERS} answers, which nobody fills in. The original is kept.`,
} as const;

/** Pairs of a form, and one more than may be where there are more. */
function formFields(text: string): Fields {
  const fields = new Map<string, string>();
  for (const [name, value] of new URLSearchParams(text)) {
    fields.set(name, value);
    if (fields.size > MOST_ANSWERS) break;
  }
  return Object.fromEntries(fields);
}

function documents(reads: readonly Read[]): Parsed {
  const [fields, ...more] = reads.flatMap((r) => (r.ok ? [bounded(r.fields) ?? {}] : []));
  if (!fields) {
    const reasons = new Set(reads.flatMap((r) => (r.ok ? [] : [r.reason])));
    return { ok: false, reason: `${[...reasons].slice(0, 3).join(" ")} The original is kept.` };
  }
  return { ok: true, fields, ...(more.length > 0 && { more }) };
}

/** A mail as an inquiry: the document it carries, else what the person wrote. */
export function fromMail(mail: Mail): Parsed {
  if (mail.document) {
    const read = looksLikeVcard(mail.document)
      ? documents([readVcard(mail.document)])
      : documents(readAdf(mail.document));
    return { ...read, mail };
  }
  const message = [mail.subject, mail.body].filter(Boolean).join("\n\n");
  const fields = { email: mail.from, ...(mail.fromName && { name: mail.fromName }), message };
  return { ok: true, fields: bounded(fields) ?? {}, mail };
}

async function multipart(contentType: string, raw: Buffer): Promise<Parsed> {
  const form = await new Response(new Uint8Array(raw), {
    headers: { "content-type": contentType },
  }).formData();
  const fields: Record<string, string> = {};
  for (const [name, value] of form) {
    if (Object.keys(fields).length > MOST_ANSWERS) return TOO_MANY;
    if (typeof value === "string") fields[name] = value;
    else {
      const text = value.size < 1_048_576 ? await value.text() : "";
      if (looksLikeAdf(text)) return documents(readAdf(text));
      if (looksLikeVcard(text)) return documents([readVcard(text)]);
      fields[name] = value.name;
    }
  }
  return named(fields);
}
