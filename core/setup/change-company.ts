import { isSupportedCountry } from "libphonenumber-js";
import { toEmail } from "../contact/email.ts";
import { toE164 } from "../contact/phone.ts";
import type { Company } from "../policy/company.ts";
import { type Policies, type Setup, withStep } from "../policy/setup.ts";
import { refuse } from "../refusal.ts";
import type { Changed } from "./change.ts";

/** What Set-up › Company changes as one thing. */
export interface CompanyChange {
  readonly company: Company;
  readonly sites: readonly string[];
  readonly teamChat: string;
}

/** Why a lead is passed on, or given to somebody by hand. */
export type WordsChange = Pick<Policies, "passReasons" | "giveReasons">;

export const put = (setup: Setup, change: Partial<Policies>): Changed => ({
  ok: true,
  setup: { ...setup, policies: { ...setup.policies, ...change } },
});
export const wrong = (code: string, title: string, detail: string, path: string) =>
  refuse(code, 422, title, detail, path);

const LANGUAGE_NAMES = new Intl.DisplayNames("en", { type: "language", fallback: "none" });
const CURRENCIES: ReadonlySet<string> = new Set(Intl.supportedValuesOf("currency"));

/** Whether it is a language that has a name: two letters, ISO 639-1. */
export const isLanguage = (code: string): boolean =>
  /^[a-z]{2}$/.test(code) && LANGUAGE_NAMES.of(code) !== undefined;

/** Pictures every mail program shows, and that run nothing. */
export const LOGO_TYPES: ReadonlySet<string> = new Set([
  "image/png",
  "image/jpeg",
  "image/gif",
  "image/webp",
]);
/** The most a logo may weigh (bytes): it goes to every phone that opens a mail. */
const MOST_LOGO = 500_000;

/** Change who the company is. Numbers are kept in E.164, sites without their protocol. */
export function changeCompany(setup: Setup, { company, sites, teamChat }: CompanyChange): Changed {
  const name = company.name.trim();
  if (!name)
    return wrong("it-needs-a-name", "It needs a name", "Say what the company is called.", "company.name");
  const email = toEmail(company.email);
  if (!email)
    return wrong(
      "not-a-mail-address",
      "Not a mail address",
      `Mails can’t come from “${company.email}”.`,
      "company.email",
    );
  if (!isSupportedCountry(company.country))
    return wrong("no-such-country", "No such country", "Choose one of the countries.", "company.country");
  const textLine = company.textLine.trim() ? toE164(company.textLine, company.country) : "";
  if (textLine === null)
    return wrong(
      "not-a-phone-number",
      "Not a phone number",
      `Texts can’t come from “${company.textLine}”. Write it as it is dialled, or with + and its country.`,
      "company.textLine",
    );
  if (!CURRENCIES.has(company.currency))
    return wrong("no-such-currency", "No such currency", "Choose one of the currencies.", "company.currency");
  const languages = [...new Set(company.languages)];
  const unknown = languages.find((code) => !isLanguage(code));
  if (languages.length === 0 || unknown !== undefined)
    return wrong(
      "no-such-language",
      "No such language",
      unknown ? `“${unknown}” is no language.` : "Choose one language at least.",
      "company.languages",
    );
  const { logo } = company;
  if (logo && (!LOGO_TYPES.has(logo.type) || logo.size > MOST_LOGO))
    return wrong(
      "no-such-picture",
      "Not a picture for this",
      `“${logo.name}” can’t be the logo: a PNG, JPEG, GIF or WebP of 500 kB at most.`,
      "company.logo",
    );
  const own = sites.map(siteOf);
  const at = own.indexOf(null);
  if (at >= 0)
    return wrong(
      "not-a-site",
      "Not a site",
      `“${sites[at]}” is no web site. Write it as www.example.com.`,
      `sites.${at}`,
    );
  return put(setup, {
    company: { ...company, name, email, textLine, languages },
    sites: [...new Set(own.filter((site) => site !== null && site !== ""))] as string[],
    teamChat: teamChat.trim(),
    settled: withStep(setup.policies.settled, "company", true),
  });
}

/** A site's host as links name it; empty for nothing written, null for what is no site. */
function siteOf(written: string): string | null {
  const bare = written.trim();
  if (!bare) return "";
  const url = /^https?:\/\//i.test(bare) ? bare : `https://${bare}`;
  if (!URL.canParse(url)) return null;
  const { host, hostname } = new URL(url);
  return hostname.includes(".") || hostname === "localhost" ? host : null;
}

const lower = (text: string) => text.trim().toLowerCase();

/** The first name that two of them share, with where the second stands; null when each has its own. */
export function twice(named: readonly { readonly names: readonly string[]; readonly path: string }[]) {
  const taken = new Set<string>();
  for (const { names, path } of named)
    for (const name of new Set(names.map(lower))) {
      if (taken.has(name)) return { name, path };
      taken.add(name);
    }
  return null;
}

/** Change the reasons people choose from when a lead goes to somebody else. */
export function changeWords(setup: Setup, { passReasons, giveReasons }: WordsChange): Changed {
  const lists = { passReasons, giveReasons };
  const tidied = {} as Record<keyof typeof lists, string[]>;
  for (const [which, list] of Object.entries(lists) as [keyof typeof lists, readonly string[]][]) {
    const names = list.map((n) => n.trim()).filter(Boolean);
    if (names.length === 0)
      return wrong("none-left", "None left", "Keep one at least: people must choose something.", which);
    const shared = twice(names.map((n, i) => ({ names: [n], path: `${which}.${i}` })));
    if (shared)
      return wrong(
        "the-name-is-taken",
        "The name is taken",
        `“${shared.name}” stands there twice.`,
        shared.path,
      );
    tidied[which] = names;
  }
  return put(setup, tidied);
}
