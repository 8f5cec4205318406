import { Temporal } from "temporal-polyfill";

/** A call in a calendar, as RFC 5545 (iCalendar) and RFC 5546 (iTIP) have it. */
export interface Invite {
  readonly method: "REQUEST" | "CANCEL";
  /** Stays the same however often the call is moved. */
  readonly uid: string;
  /** Grows with every change, so that calendars know which is the newest. */
  readonly sequence: number;
  readonly at: number;
  readonly minutes: number;
  readonly summary: string;
  readonly description: string;
  readonly organizer: { readonly name: string; readonly email: string };
  readonly attendee: { readonly name: string; readonly email: string };
  /** When this is written (epoch ms). */
  readonly now: number;
}

/** Commas, semicolons, backslashes and breaks stand for themselves only when escaped (RFC 5545 §3.3.11). */
const text = (value: string) => value.replace(/[\\;,]/g, "\\$&").replace(/\r?\n/g, "\\n");
/** A parameter's value may hold anything but quotes and control characters (§3.2). */
// biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what must go
const quoted = (value: string) => `"${value.replace(/["\u0000-\u001f]/g, " ")}"`;
const utc = (at: number) =>
  Temporal.Instant.fromEpochMilliseconds(at).toString({ smallestUnit: "second" }).replace(/[-:]/g, "");

/** Lines of at most 75 octets, broken between characters (§3.1). */
function folded(line: string): string {
  const out: string[] = [];
  let part = "";
  let octets = 0;
  for (const character of line) {
    const size = new TextEncoder().encode(character).length;
    if (octets + size > 75) {
      out.push(part);
      part = " ";
      octets = 1;
    }
    part += character;
    octets += size;
  }
  return [...out, part].join("\r\n");
}

/**
 * The invitation or its cancellation. Times are in UTC: a single call needs no zone to be at the right hour
 * wherever it is looked at.
 */
export function inviteText(invite: Invite): string {
  const { method, uid, sequence, at, minutes, summary, description, organizer, attendee, now } = invite;
  const person = ({ name, email }: Invite["organizer"]) => `CN=${quoted(name)}:mailto:${email}`;
  const lines = [
    "BEGIN:VCALENDAR",
    "VERSION:2.0",
    "PRODID:-//Kite Bell//EN",
    `METHOD:${method}`,
    "BEGIN:VEVENT",
    `UID:${uid}`,
    `SEQUENCE:${sequence}`,
    `DTSTAMP:${utc(now)}`,
    `DTSTART:${utc(at)}`,
    `DTEND:${utc(at + minutes * 60_000)}`,
    `SUMMARY:${text(summary)}`,
    `DESCRIPTION:${text(description)}`,
    `ORGANIZER;${person(organizer)}`,
    `ATTENDEE;PARTSTAT=ACCEPTED;RSVP=FALSE;${person(attendee)}`,
    `STATUS:${method === "CANCEL" ? "CANCELLED" : "CONFIRMED"}`,
    "END:VEVENT",
    "END:VCALENDAR",
  ];
  return `${lines.map(folded).join("\r\n")}\r\n`;
}
