import type { Company, Contact } from "./records.ts";

/** A value of a card: RFC 6350 3.4 escapes backslash, comma and line ends; semicolons only where they part components. */
const escaped = (text: string): string =>
  text
    .replace(/\\/g, "\\\\")
    .replace(/\r\n|\r|\n/g, "\\n")
    .replace(/,/g, "\\,");
const component = (text: string): string => escaped(text).replace(/;/g, "\\;");

const bytesOf = (letter: string): number => {
  const code = letter.codePointAt(0)!;
  return code < 0x80 ? 1 : code < 0x800 ? 2 : code < 0x10000 ? 3 : 4;
};

/** A line folded at 75 bytes, never within a letter (RFC 6350 3.2). */
function folded(line: string): string {
  let out = "";
  let length = 0;
  for (const letter of line) {
    const bytes = bytesOf(letter);
    if (length + bytes > 75) {
      out += "\r\n ";
      length = 1;
    }
    out += letter;
    length += bytes;
  }
  return out;
}

/** What a card tells of somebody. */
type OnCard = Pick<Contact, "id" | "name" | "role" | "emails" | "phones" | "address" | "language">;

/** Somebody as vCard 4.0 (RFC 6350). `host` makes its UID, `at` its revision (`20260304T150000Z`). Never throws. */
export function contactCard(
  contact: OnCard,
  company: Pick<Company, "name"> | null,
  { host, at }: { host: string; at: string },
): string {
  const words = contact.name.trim().split(/\s+/);
  const family = words.length > 1 ? words.at(-1)! : "";
  const given = words.slice(0, words.length > 1 ? -1 : 1).join(" ");
  const lines = [
    "BEGIN:VCARD",
    "VERSION:4.0",
    `UID:urn:kitebell:${contact.id}@${host}`,
    `REV:${at}`,
    `FN:${escaped(contact.name)}`,
    `N:${component(family)};${component(given)};;;`,
    ...(company ? [`ORG:${component(company.name)}`] : []),
    ...(contact.role ? [`TITLE:${escaped(contact.role)}`] : []),
    ...contact.emails.map((email, i) => `EMAIL;PREF=${i + 1}:${escaped(email)}`),
    ...contact.phones.map((phone, i) => `TEL;VALUE=uri;PREF=${i + 1}:tel:${phone}`),
    ...(contact.address ? [`ADR:;;${component(contact.address)};;;;`] : []),
    ...(contact.language ? [`LANG:${escaped(contact.language)}`] : []),
    "END:VCARD",
  ];
  return `${lines.map(folded).join("\r\n")}\r\n`;
}
