import { jaroWinkler } from "./similar.ts";

/** What two people are compared by. */
export interface Identity {
  readonly name: string | null;
  readonly company: string | null;
  readonly emails: readonly string[];
  readonly phones: readonly string[];
  readonly postalCode: string | null;
}

/** One reason for or against two being the same, with the points it gives. */
export interface Evidence {
  readonly about: "name" | "postal code" | "company" | "mail domain" | "mail name" | "shared phone";
  readonly points: number;
  readonly said: string;
}

export interface Likeness {
  readonly points: number;
  readonly evidence: readonly Evidence[];
}

/** Points for each kind of evidence. Two leads with `likely` points or more are proposed as one person. */
export const WEIGHTS = {
  likely: 5,
  /** A name counts from this similarity on. */
  nameFrom: 0.88,
  name: 4,
  otherName: -3,
  postalCode: 2,
  otherPostalCode: -1.5,
  company: 3,
  domain: 2,
  mailName: 2,
  sharedPhone: 2.5,
} as const;

/** Mail domains anybody can have an address at tell nothing about who somebody is. Common practice. */
const PUBLIC = /^(gmail|googlemail|outlook|hotmail|live|yahoo|icloud|aol|proton|protonmail|gmx|mail)\./;
/** What companies are called by, left out when two are compared. */
const LEGAL = new Set("inc llc ltd limited corp corporation co company gmbh sarl the and of".split(" "));

const ASCII = /^[\x20-\x7e]*$/;

/** Lower case without accents and signs: `Zoë O’Hara-Lim` → `zoe ohara lim`. */
export function plain(text: string): string {
  // Most names are plain letters already: nothing to take apart.
  if (ASCII.test(text))
    return text
      .replace(/['`.]/g, "")
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, " ")
      .trim();
  return text
    .normalize("NFKD")
    .replace(/[\u0300-\u036f’'`.]/g, "")
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, " ")
    .trim();
}

const words = (text: string) => plain(text).split(" ").filter(Boolean);
/** The words a company is told apart by: without what says only that it is one. */
export const companyWords = (text: string) => words(text).filter((w) => !LEGAL.has(w));
const domainOf = (email: string) => email.slice(email.lastIndexOf("@") + 1);
/** Mail domains that tell who somebody is: not those anybody can have an address at. */
export const ownDomains = (emails: readonly string[]) => emails.map(domainOf).filter((d) => !PUBLIC.test(d));
const localOf = (email: string) =>
  plain(email.slice(0, email.lastIndexOf("@")).split("+")[0]!).replace(/ /g, "");

/**
 * How alike two names are, 0 to 1. Word order does not matter (`Ruiz, Ana` is `Ana Ruiz`), and neither does a
 * middle name that only one of them has.
 */
export function nameLikeness(a: string, b: string): number {
  const [x, y] = [words(a), words(b)];
  if (x.length === 0 || y.length === 0) return 0;
  const whole = jaroWinkler(x.join(" "), y.join(" "));
  if (x.length === 1 || y.length === 1) return whole;
  const [p, q] = [[...x].sort(), [...y].sort()];
  const turned = p.length === q.length ? Math.min(...p.map((word, i) => jaroWinkler(word, q[i]!))) : 0;
  // First with first and last with last: an initial fits the name it begins.
  const first =
    x[0]![0] === y[0]![0] && (x[0]!.length === 1 || y[0]!.length === 1) ? 0.9 : jaroWinkler(x[0]!, y[0]!);
  const ends = Math.min(first, jaroWinkler(x.at(-1)!, y.at(-1)!));
  return Math.max(Math.min(whole, ends + 0.05), turned, ends);
}

/**
 * How likely two are the same person, with every reason. Sure matches (the same unshared phone number or mail
 * address) are not asked here. Pure and symmetric in its points.
 */
export function likeness(a: Identity, b: Identity): Likeness {
  const evidence: Evidence[] = [];
  const add = (about: Evidence["about"], points: number, said: string) =>
    evidence.push({ about, points, said });
  if (a.name && b.name) {
    const alike = nameLikeness(a.name, b.name);
    if (alike >= WEIGHTS.nameFrom) {
      const share = (alike - WEIGHTS.nameFrom) / (1 - WEIGHTS.nameFrom);
      add(
        "name",
        round(WEIGHTS.name * (0.6 + 0.4 * share)),
        alike === 1 ? "the same name" : `the names are ${Math.round(alike * 100)} % alike`,
      );
    } else add("name", WEIGHTS.otherName, "the names differ");
  }
  if (a.postalCode && b.postalCode)
    a.postalCode === b.postalCode
      ? add("postal code", WEIGHTS.postalCode, `both are in ${a.postalCode}`)
      : add(
          "postal code",
          WEIGHTS.otherPostalCode,
          `${a.postalCode} and ${b.postalCode} are different places`,
        );
  if (a.company && b.company) {
    const alike = jaroWinkler(companyWords(a.company).join(" "), companyWords(b.company).join(" "));
    if (alike >= 0.92) add("company", WEIGHTS.company, `the same company, ${a.company}`);
  }
  const domain = ownDomains(a.emails).find((d) => ownDomains(b.emails).includes(d));
  if (domain) add("mail domain", WEIGHTS.domain, `both write from ${domain}`);
  const local = a.emails.map(localOf).find((l) => l.length >= 6 && b.emails.some((e) => localOf(e) === l));
  if (local) add("mail name", WEIGHTS.mailName, `both mail addresses begin with “${local}”`);
  const phone = a.phones.find((p) => b.phones.includes(p));
  if (phone) add("shared phone", WEIGHTS.sharedPhone, "the same phone number, which several people share");
  return { points: round(evidence.reduce((sum, e) => sum + e.points, 0)), evidence };
}

const round = (n: number) => Math.round(n * 10) / 10;

/**
 * The keys by which leads that may be alike are found without comparing with all: two that share none are not
 * compared. A name alone is never enough to be likely, so each key is one of the other kinds of evidence. Few enough to be indexed, narrow enough that few leads share one even among a million.
 */
export function blockingKeys({ name, company, emails, postalCode }: Identity): string[] {
  const keys = new Set<string>();
  const parts = name ? words(name) : [];
  // A word without letters is no name: it would only bring strangers together.
  const end = parts.at(-1) ?? "";
  const last = /\p{L}/u.test(end) ? end : undefined;
  const sounds = last ? sound(last) : "";
  const area = postalCode?.slice(0, 5);
  if (area && last) keys.add(`n:${sounds}:${area}`);
  const firm = company ? companyWords(company).slice(0, 2).join(" ") : "";
  if (firm) keys.add(`c:${firm}:${sounds}`);
  if (last) for (const domain of ownDomains(emails)) keys.add(`d:${domain}:${sounds}`);
  for (const email of emails) {
    const local = localOf(email);
    if (local.length >= 6) keys.add(`m:${local}`);
  }
  return [...keys];
}

const CODE: Readonly<Record<string, string>> = {
  b: "1",
  f: "1",
  p: "1",
  v: "1",
  c: "2",
  g: "2",
  j: "2",
  k: "2",
  q: "2",
  s: "2",
  x: "2",
  z: "2",
  d: "3",
  t: "3",
  l: "4",
  m: "5",
  n: "5",
  r: "6",
};

/** How a word sounds, by American Soundex: first letter and three digits. Two spellings of a name share it. */
export function sound(word: string): string {
  const letters = plain(word).replace(/[^a-z]/g, "");
  if (!letters) return plain(word).slice(0, 4);
  let code = letters[0]!;
  let last = CODE[code] ?? "";
  for (let i = 1; i < letters.length && code.length < 4; i++) {
    const letter = letters[i]!;
    const digit = CODE[letter] ?? "";
    if (digit && digit !== last) code += digit;
    // h and w do not part two letters that sound alike; vowels do.
    if (letter !== "h" && letter !== "w") last = digit;
  }
  return code.padEnd(4, "0");
}
