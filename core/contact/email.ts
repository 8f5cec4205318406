/** A mail address in the one form it is kept and compared in: lower case, domain in its ASCII form. */
export type EmailAddress = string;

/**
 * The canonical form of an address as somebody wrote it (`Ana <Ana@Example.COM>` → `ana@example.com`), or
 * null when it is none. Lower-casing the local part goes beyond RFC 5321, which leaves it to the receiver;
 * that nobody means two people by it is common practice. International domains by the platform's URL (IDNA).
 */
export function toEmail(written: string): EmailAddress | null {
  const bare = (/<([^<>]+)>\s*$/.exec(written)?.[1] ?? written).trim();
  const at = bare.lastIndexOf("@");
  if (at < 1 || bare.length > 254) return null;
  const local = bare.slice(0, at).toLowerCase();
  if (local.length > 64 || !/^[^\s@"(),:;<>[\\\]]+$/.test(local) || /^\.|\.\.|\.$/.test(local)) return null;
  const domain = toAsciiDomain(bare.slice(at + 1));
  return domain ? `${local}@${domain}` : null;
}

function toAsciiDomain(written: string): string | null {
  if (isUsual(written)) return written.toLowerCase();
  if (!written.includes(".") || /[\s/?#:@\\%]/.test(written)) return null;
  const url = URL.canParse(`http://${written}`) ? new URL(`http://${written}`) : null;
  const host = url?.hostname ?? "";
  return /^[a-z0-9-]+(\.[a-z0-9-]+)*\.[a-z][a-z0-9-]*[a-z0-9]$/.test(host) ? host : null;
}

/** A domain in plain letters, as nearly all are: nothing for IDNA to do, and much faster read. */
function isUsual(domain: string): boolean {
  const labels = domain.split(".");
  const isShort = labels.length > 1 && labels.every((label) => label.length <= 63);
  return isShort && !/xn--/i.test(domain) && /^([a-z0-9](-*[a-z0-9])*\.)+[a-z][a-z]+$/i.test(domain);
}
