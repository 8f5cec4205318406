import type { Received } from "./outside.ts";

/** Whose mailbox is not there: mail to `nobody@…` is taken and comes back. */
export const hasNoMailbox = (address: string): boolean => address.startsWith("nobody@");

/** Whose phone is not there: texts to numbers that end so are taken and do not arrive. */
export const hasNoPhone = (number: string): boolean => number.endsWith("0999");

/** The mail by which a mail server says that another could not be delivered (RFC 3464, RFC 6522). */
export function bounceOf({ to, from, subject = "", headers = {} }: Received): string {
  const host = to.split("@")[1] ?? "example.com";
  const said = "550 5.1.1 No such mailbox here";
  return [
    `From: Mail Delivery System <mailer-daemon@${host}>`,
    `To: ${from}`,
    "Subject: Undelivered mail returned to sender",
    "Auto-Submitted: auto-replied",
    "MIME-Version: 1.0",
    'Content-Type: multipart/report; report-type=delivery-status; boundary="kite"',
    "",
    "--kite",
    "Content-Type: text/plain; charset=utf-8",
    "",
    `Your mail to ${to} could not be delivered: ${said}`,
    "",
    "--kite",
    "Content-Type: message/delivery-status",
    "",
    `Reporting-MTA: dns; mx.${host}`,
    "",
    `Final-Recipient: rfc822; ${to}`,
    "Action: failed",
    "Status: 5.1.1",
    `Diagnostic-Code: smtp; ${said}`,
    "",
    "--kite",
    "Content-Type: text/rfc822-headers",
    "",
    `Message-ID: ${headers["message-id"] ?? ""}`,
    `Subject: ${subject}`,
    "",
    "--kite--",
    "",
  ].join("\r\n");
}
