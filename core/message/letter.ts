import { type HtmlToTextOptions, convert as toText } from "html-to-text";
import MarkdownIt from "markdown-it";

/** What a mail says, in our one layout: CommonMark as HTML, and the same words as plain text beside it. */

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

const MUTED = "#6b6256";
const INK = "#8a4b1f";

/** How each kind of element looks: mail programs know no style sheets. */
const LOOKS: Readonly<Record<string, string>> = {
  p: "margin:0 0 16px",
  ul: "margin:0 0 16px;padding-left:20px",
  ol: "margin:0 0 16px;padding-left:20px",
  h1: "margin:0 0 16px;font-size:22px;line-height:1.3",
  h2: "margin:0 0 14px;font-size:19px;line-height:1.3",
  h3: "margin:0 0 12px;font-size:17px;line-height:1.3",
  blockquote: `margin:0 0 16px;padding-left:12px;border-left:2px solid #e2d9c8;color:${MUTED}`,
  a: `color:${INK}`,
  img: "max-width:100%",
  code: "font-family:monospace",
  pre: "margin:0 0 16px;white-space:pre-wrap;font-family:monospace",
  table: "margin:0 0 16px;border-collapse:collapse;font:13px/1.4 Helvetica,Arial,sans-serif",
  th: `padding:4px 10px 4px 0;border-bottom:1px solid #c9bfae;text-align:left;color:${MUTED}`,
  td: "padding:4px 10px 4px 0;border-bottom:1px solid #efe8db;vertical-align:top",
  hr: "margin:24px 0;border:0;border-top:1px solid #e2d9c8",
};

/**
 * CommonMark without HTML. Lines end where their writer ended them, and addresses written out are links: what people expect
 * of a letter. Only links that a mail program opens are links; pictures come from pages alone.
 */
function reader(links: RegExp): MarkdownIt {
  const options = { html: false, xhtmlOut: false, breaks: true, linkify: true };
  const markdown = new MarkdownIt("commonmark", options).enable("linkify");
  markdown.linkify.set({ fuzzyLink: false, fuzzyEmail: false, fuzzyIP: false });
  markdown.validateLink = (url) => links.test(url.trim());
  return markdown;
}

const written = reader(/^(https?:\/\/|mailto:|tel:)/i);
/** The same with tables, and with pictures that come along in the mail (RFC 2392) or stand in the page itself. */
const drawn = reader(/^(https?:\/\/|cid:|data:image\/png;base64,)/i).enable("table");

const same = (url: string) => url;

/** An address as it is read: without its protocol, and without what it ends with for machines. */
const readable = (url: string) => url.replace(/^https?:\/\//, "").split(/[?#]/, 1)[0] ?? "";

/** The words of a letter as HTML. `exchange` gives each address that is opened another one; its words stay. */
function bodyHtml({ body, exchange = same, isDrawn = false }: Letter): string {
  const markdown = isDrawn ? drawn : written;
  const tokens = markdown.parse(body, {});
  const dress = (list: typeof tokens): void => {
    for (const [at, token] of list.entries()) {
      const look = token.nesting >= 0 ? LOOKS[token.tag] : undefined;
      if (look) token.attrSet("style", look);
      if (token.type === "image" && !isDrawn && !isPage(token.attrGet("src"))) token.attrSet("src", "");
      const href = token.type === "link_open" ? token.attrGet("href") : null;
      if (href && isPage(href)) {
        // Written out, it is its own name: that of the page it leads to, whatever it leads by.
        const name = list[at + 1];
        if (name && (token.markup === "linkify" || token.markup === "autolink"))
          name.content = readable(href);
        token.attrSet("href", exchange(href));
      }
      if (token.children) dress(token.children);
    }
  };
  dress(tokens);
  return markdown.renderer.render(tokens, markdown.options, {});
}

const isPage = (url: string | null): url is string => url !== null && /^https?:\/\//i.test(url);

/** HTML of ours as plain text: lines as they are, links with their address behind them, lists with a dash. */
const AS_TEXT: HtmlToTextOptions = {
  wordwrap: false,
  selectors: [
    { selector: "a", options: { hideLinkHrefIfSameAsText: true, linkBrackets: ["(", ")"] } },
    { selector: "img", format: "skip" },
    { selector: "ul", options: { itemPrefix: "- " } },
    { selector: "table", format: "dataTable", options: { uppercaseHeaderCells: false } },
    ...["h1", "h2", "h3"].map((selector) => ({ selector, options: { uppercase: false } })),
  ],
};

export interface Letter {
  readonly company: string;
  /** CommonMark. */
  readonly body: string;
  /** Where they can say that they want no more of these; null for what a person wrote. */
  readonly unsubscribeUrl: string | null;
  /** Why they get it, above the way out. */
  readonly because: string | null;
  /** What each address that is opened is exchanged for; nothing when left out. */
  readonly exchange?: (url: string) => string;
  /** Nobody's words but ours: it may have tables and pictures of its own. */
  readonly isDrawn?: boolean;
  /** Where the company's sign is; its name stands there without one. */
  readonly logo?: string | null;
}

/** The plain text of a mail, its way out included: the twin of {@link letterHtml}. */
export function letterText(letter: Letter): string {
  const { unsubscribeUrl, because } = letter;
  const text = toText(bodyHtml(letter), AS_TEXT);
  return unsubscribeUrl ? `${text}\n\n-- \n${because ?? ""}\nUnsubscribe: ${unsubscribeUrl}\n` : text;
}

/** The mail as clean HTML: one column, the company's sign or name on top, then the letter. No script, nothing anybody else's. */
export function letterHtml(letter: Letter): string {
  const { company, unsubscribeUrl, because, logo, isDrawn } = letter;
  const out = unsubscribeUrl
    ? `<p style="margin:24px 0 0;padding-top:12px;border-top:1px solid #e2d9c8;font-size:13px;color:${MUTED}">${escapeHtml(because ?? "")} <a href="${escapeHtml(unsubscribeUrl)}" style="color:${MUTED}">Unsubscribe</a></p>`
    : "";
  const sign = logo
    ? `<img src="${escapeHtml(logo)}" alt="${escapeHtml(company)}" style="max-width:180px;max-height:64px">`
    : escapeHtml(company);
  return `<!doctype html><html><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"></head><body style="margin:0;background:#f6f1e7"><div style="max-width:${isDrawn ? 720 : 560}px;margin:0 auto;padding:24px 16px"><div style="background:#ffffff;border-top:4px solid ${INK};padding:24px;font:16px/1.5 Georgia,serif;color:#2b2620"><p style="margin:0 0 20px;font:600 14px/1.4 Helvetica,Arial,sans-serif;color:${INK}">${sign}</p>${bodyHtml(letter)}${out}</div></div></body></html>`;
}
