/** A mail server as somebody enters it. */
export interface MailServer {
  readonly host: string;
  readonly port: number;
  /** `tls` from the first byte, `starttls` before anything is said, `none` in the clear. */
  readonly security: "tls" | "starttls" | "none";
  readonly user: string;
  /** Null keeps the password that is kept already. */
  readonly password: string | null;
}

/** The options that say how nodemailer must treat a connection. */
const SECURITY = { tls: "", starttls: "?requireTLS=true", none: "?ignoreTLS=true" } as const;

/** Why an address can't be made of it, in words. */
export class NotAServer extends Error {}

/**
 * The address of a mail server as nodemailer takes it. `before` is the address kept so far: its password is used again for
 * the same server and account, and for no other, so that nobody can have it sent elsewhere.
 * @throws NotAServer when it names no host, or when the password must be entered again.
 */
export function mailUrl({ host, port, security, user, password }: MailServer, before: string | null): string {
  const scheme = security === "tls" ? "smtps:" : "smtp:";
  const written = `${scheme}//${host.trim()}:${port}`;
  if (!/^[\w.:[\]-]+$/.test(host.trim()) || !URL.canParse(written))
    throw new NotAServer(`“${host}” is no server: write it as smtp.example.com.`);
  const url = new URL(written);
  if (user.trim()) {
    const known = before !== null && URL.canParse(before) ? new URL(before) : null;
    const isSame =
      known !== null && known.hostname === url.hostname && decodeURIComponent(known.username) === user.trim();
    if (password === null && !isSame)
      throw new NotAServer("The server or the account is another one: enter its password again.");
    url.username = encodeURIComponent(user.trim());
    url.password = password === null ? known!.password : encodeURIComponent(password);
  }
  return `${url.href.replace(/\/$/, "")}/${SECURITY[security]}`;
}

/** The server of such an address, without its password; null when it is none. */
export function mailServerOf(url: string | null): Omit<MailServer, "password"> | null {
  if (url === null || !URL.canParse(url)) return null;
  const { protocol, hostname, port, username, searchParams } = new URL(url);
  const security =
    protocol === "smtps:" ? "tls" : searchParams.get("ignoreTLS") === "true" ? "none" : "starttls";
  const usual = security === "tls" ? 465 : 587;
  return { host: hostname, port: Number(port) || usual, security, user: decodeURIComponent(username) };
}
