/** What a mail says, in our one layout: the same words as HTML, beside the plain text. */

const ESCAPES: Readonly<Record<string, string>> = {
  "&": "&amp;",
  "<": "&lt;",
  ">": "&gt;",
  '"': "&quot;",
  "'": "&#39;",
};

/** Text as HTML shows it. */
export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (c) => ESCAPES[c]!);
}

const URL_IN_TEXT = /https?:\/\/[^\s<>"']+[^\s<>"'.,;:!?)]/g;

/** The addresses of pages in a text, each once, in the order they stand there. */
export function linksIn(text: string): readonly string[] {
  return [...new Set(text.match(URL_IN_TEXT) ?? [])];
}

const isPicture = (url: string) => /\.(png|jpe?g|gif|webp)$/i.test(url.split("?", 1)[0]!);

/** So many addresses of one text are exchanged; nobody writes a letter with more, and each costs a row. */
const MOST_EXCHANGED = 50;

/**
 * A text with each address of a page exchanged. Those of pictures stay: they are shown, not opened. Beyond the first
 * fifty different ones addresses stay as they are.
 */
export function exchangeLinks(text: string, by: (url: string) => string): string {
  const exchanged = new Map<string, string>();
  return text.replace(URL_IN_TEXT, (url) => {
    if (isPicture(url)) return url;
    if (!exchanged.has(url) && exchanged.size >= MOST_EXCHANGED) return url;
    const known = exchanged.get(url) ?? by(url);
    exchanged.set(url, known);
    return known;
  });
}

/** One line with its addresses as links and `*words*` as strong. */
function inline(line: string): string {
  const parts: string[] = [];
  let from = 0;
  for (const match of line.matchAll(URL_IN_TEXT)) {
    parts.push(strong(escapeHtml(line.slice(from, match.index))));
    const url = escapeHtml(match[0]);
    parts.push(`<a href="${url}" style="color:#8a4b1f">${url.replace(/^https?:\/\//, "")}</a>`);
    from = match.index + match[0].length;
  }
  parts.push(strong(escapeHtml(line.slice(from))));
  return parts.join("");
}

function strong(html: string): string {
  return html.replace(/(^|[\s(])\*([^*\s](?:[^*]*[^*\s])?)\*(?=$|[\s).,;:!?])/g, "$1<strong>$2</strong>");
}

export interface Letter {
  readonly company: string;
  readonly body: string;
  /** Where they can say that they want no more of these; null for what a person wrote. */
  readonly unsubscribeUrl: string | null;
  /** Why they get it, above the way out. */
  readonly because: string | null;
}

/**
 * The plain text of a mail, its way out included: the twin of {@link letterHtml}.
 */
export function letterText({ body, unsubscribeUrl, because }: Letter): string {
  return unsubscribeUrl ? `${body}\n\n-- \n${because ?? ""}\nUnsubscribe: ${unsubscribeUrl}\n` : body;
}

/** The mail as clean HTML: one column, the company's name on top, paragraphs, lists, links, and pictures whose address stands alone. No script. */
export function letterHtml({ company, body, unsubscribeUrl, because }: Letter): string {
  const blocks = body.split(/\n{2,}/).map((block) => {
    const lines = block.split("\n");
    const [only] = lines;
    if (lines.length === 1 && only && linksIn(only)[0] === only && isPicture(only))
      return `<p style="margin:0 0 16px"><img src="${escapeHtml(only)}" alt="" style="max-width:100%"></p>`;
    if (lines.every((l) => /^[-*] /.test(l)))
      return `<ul style="margin:0 0 16px;padding-left:20px">${lines.map((l) => `<li>${inline(l.slice(2))}</li>`).join("")}</ul>`;
    return `<p style="margin:0 0 16px">${lines.map(inline).join("<br>")}</p>`;
  });
  const out = unsubscribeUrl
    ? `<p style="margin:24px 0 0;padding-top:12px;border-top:1px solid #e2d9c8;font-size:13px;color:#6b6256">${escapeHtml(because ?? "")} <a href="${escapeHtml(unsubscribeUrl)}" style="color:#6b6256">Unsubscribe</a></p>`
    : "";
  return `<!doctype html><html><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"></head><body style="margin:0;background:#f6f1e7"><div style="max-width:560px;margin:0 auto;padding:24px 16px"><div style="background:#ffffff;border-top:4px solid #8a4b1f;padding:24px;font:16px/1.5 Georgia,serif;color:#2b2620"><p style="margin:0 0 20px;font:600 14px/1.4 Helvetica,Arial,sans-serif;color:#8a4b1f">${escapeHtml(company)}</p>${blocks.join("")}${out}</div></div></body></html>`;
}
