import { companyWords, nameLikeness, ownDomains, plain } from "../contact/likely.ts";
import { jaroWinkler } from "../contact/similar.ts";
import type { Company, Contact } from "./records.ts";

/** What a lead, or somebody typing, says of a company. */
export interface SaidCompany {
  readonly name: string | null;
  readonly domain: string | null;
  readonly phone: string | null;
  readonly postalCode: string | null;
}

export interface SaidContact {
  readonly name: string | null;
  readonly emails: readonly string[];
  readonly phones: readonly string[];
}

export interface Match {
  readonly id: string;
  readonly points: number;
  readonly reasons: readonly string[];
}

/** Points for each kind of evidence. From `likely` points on a record is proposed; never chosen on its own. */
export const BOOK_WEIGHTS = {
  likely: 4,
  domain: 6,
  companyName: 5,
  companyNameFrom: 0.9,
  phone: 5,
  place: 1,
  email: 7,
  contactPhone: 6,
  contactName: 4,
  contactNameFrom: 0.92,
} as const;

/** The web domain of a mail address, or of a site: `www.` and protocol left out. Null for mail anybody can have. */
export function companyDomain(emails: readonly string[]): string | null {
  return ownDomains(emails)[0]?.toLowerCase() ?? null;
}

const firm = (name: string) => companyWords(name).join(" ");

/** How likely a company in the book is the one meant, with the reasons. */
export function companyLikeness(said: SaidCompany, known: Company): Match {
  const reasons: string[] = [];
  let points = 0;
  const add = (n: number, reason: string) => {
    points += n;
    reasons.push(reason);
  };
  if (said.domain && said.domain === known.domain)
    add(BOOK_WEIGHTS.domain, `the same domain, ${said.domain}`);
  if (said.name) {
    const [a, b] = [firm(said.name), firm(known.name)];
    const alike = a && b ? jaroWinkler(a, b) : 0;
    if (alike >= BOOK_WEIGHTS.companyNameFrom)
      add(
        BOOK_WEIGHTS.companyName * (alike === 1 ? 1 : 0.8),
        alike === 1 ? "the same name" : `the names are ${Math.round(alike * 100)} % alike`,
      );
  }
  if (said.phone && said.phone === known.phone) add(BOOK_WEIGHTS.phone, "the same phone number");
  if (points > 0 && said.postalCode && said.postalCode === known.postalCode)
    add(BOOK_WEIGHTS.place, `both are in ${said.postalCode}`);
  return { id: known.id, points: Math.round(points * 10) / 10, reasons };
}

/** How likely a contact in the book is the person meant, with the reasons. */
export function contactLikeness(said: SaidContact, known: Contact): Match {
  const reasons: string[] = [];
  let points = 0;
  const email = said.emails.find((e) => known.emails.includes(e));
  if (email) {
    points += BOOK_WEIGHTS.email;
    reasons.push(`the same address, ${email}`);
  }
  const phone = said.phones.find((p) => known.phones.includes(p));
  if (phone) {
    points += BOOK_WEIGHTS.contactPhone;
    reasons.push("the same phone number");
  }
  const alike = said.name && known.name ? nameLikeness(said.name, known.name) : 0;
  if (alike >= BOOK_WEIGHTS.contactNameFrom) {
    points += BOOK_WEIGHTS.contactName;
    reasons.push(alike === 1 ? "the same name" : `the names are ${Math.round(alike * 100)} % alike`);
  }
  return { id: known.id, points, reasons };
}

/** The keys companies are found by without comparing with all: their domain, number, and the words of their name. */
export function companyKeys({ name, domain, phone }: SaidCompany): string[] {
  const said = name ? companyWords(name) : [];
  return [
    ...(domain ? [`domain:${domain}`] : []),
    ...(phone ? [`phone:${phone}`] : []),
    ...said.filter((w) => w.length >= 3).map((w) => `word:${w.slice(0, 5)}`),
  ];
}

/** The keys contacts are found by. */
export function contactKeys({ name, emails, phones }: SaidContact): string[] {
  const words = name ? plain(name).split(" ").filter(Boolean) : [];
  return [
    ...emails.map((e) => `email:${e}`),
    ...phones.map((p) => `phone:${p}`),
    ...(words.length > 1
      ? [`name:${[words[0]!.slice(0, 3), words.at(-1)!.slice(0, 5)].sort().join(".")}`]
      : []),
  ];
}
