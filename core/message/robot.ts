/** Headers of a mail by lower-case name. */
export type MailHeaders = Readonly<Record<string, string>>;

/**
 * Why a mail was written by a machine, in words; null when a person may be behind it. Such a mail gets no automatic
 * answer. Source: RFC 3834 (Auto-Submitted other than `no`, empty return path, Precedence, lists), RFC 2919 (List-Id).
 */
export function robotReason(headers: MailHeaders, returnPath: string | null, from: string): string | null {
  const auto = (headers["auto-submitted"] ?? "").split(";")[0]!.trim().toLowerCase();
  if (auto && auto !== "no") return auto === "auto-replied" ? "an automatic answer" : "sent by a machine";
  if (returnPath === "" || returnPath === "<>") return "a delivery report";
  const precedence = headers.precedence?.trim().toLowerCase();
  if (precedence && /^(bulk|list|junk|auto_reply)$/.test(precedence)) return `bulk mail (${precedence})`;
  if (headers["list-id"] || headers["list-unsubscribe"]) return "mail to a list";
  if (headers["x-auto-response-suppress"] || headers["x-autoreply"]) return "an automatic answer";
  if (/^(mailer-daemon|postmaster|no-?reply|do-?not-?reply|bounces?)([+-].*)?@/i.test(from))
    return "from an address nobody reads";
  return null;
}

export interface Unfolded {
  /** What they wrote now. */
  readonly body: string;
  /** The quoted history below it. */
  readonly quoted: string;
}

/** How mail programs say who wrote what is quoted below: “On … wrote:”, with as many characters of a name behind it at most. */
const WROTE = [
  ["on ", " wrote", 0],
  ["le ", " a écrit", 0],
  ["el ", " escribió", 0],
  ["am ", " schrieb", 80],
] as const;
const SEPARATOR =
  /^-{2,}\s*(original message|forwarded message|message d'origine|mensaje original)\s*-{2,}$/i;

/** Whether a line says that what follows was written before. */
function isAttribution(line: string): boolean {
  if (SEPARATOR.test(line) || /^_{10,}$/.test(line) || /^from: .+$/i.test(line)) return true;
  const lower = line.toLowerCase();
  return (
    lower.endsWith(":") &&
    WROTE.some(([opens, wrote, most]) => {
      const at = lower.lastIndexOf(wrote);
      const [between, after] = [at - opens.length, lower.slice(at + wrote.length, -1).trim().length];
      return lower.startsWith(opens) && between >= 4 && between <= 120 && after <= most;
    })
  );
}

/**
 * Part what somebody wrote from the history their mail program quoted below. Lines that begin with `>` at the end,
 * and everything from an attribution line on, are history; a quote in the middle of an answer is left where it is.
 */
export function foldQuoted(text: string): Unfolded {
  const lines = text.replace(/\r\n?/g, "\n").split("\n");
  let cut = lines.findIndex((line, i) => {
    const here = line.trim();
    if (isAttribution(here)) {
      if (!/^from: /i.test(here)) return true;
      return lines.slice(i + 1, i + 6).some((l) => /^(sent|date|to|subject): /i.test(l.trim()));
    }
    // An attribution broken over two lines.
    return /^(on|le|el|am)\s/i.test(here) && isAttribution(`${here} ${lines[i + 1]?.trim() ?? ""}`);
  });
  if (cut < 0) {
    let end = lines.length;
    while (end > 0 && (lines[end - 1]!.trim() === "" || lines[end - 1]!.startsWith(">"))) end--;
    cut = lines.slice(end).some((l) => l.startsWith(">")) ? end : lines.length;
  }
  const body = lines.slice(0, cut).join("\n").trim();
  // A mail that is nothing but quotes is shown as it is.
  if (!body) return { body: text.trim(), quoted: "" };
  return { body, quoted: lines.slice(cut).join("\n").trim() };
}
