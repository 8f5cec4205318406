import type { Attachment } from "../vocabulary.ts";

/** Who the company is: what holds for all it does, and what nobody says again elsewhere. */
export interface Company {
  readonly name: string;
  /** The address mails to leads come from, where a source has none of its own. */
  readonly email: string;
  /** The number texts come from, in E.164, where a source has none of its own; empty when there is none. */
  readonly textLine: string;
  /** ISO 4217. */
  readonly currency: string;
  /** ISO 3166-1 alpha-2: numbers written without a country are of this one. */
  readonly country: string;
  /** ISO 639-1, those leads are written to in. The first is taken where nobody knows better. */
  readonly languages: readonly string[];
  /** The picture mails and forms carry on top; none when left out. */
  readonly logo?: Attachment | null | undefined;
}

/** The language that holds where nobody knows better. */
export const usualLanguage = (company: Pick<Company, "languages">): string => company.languages[0] ?? "en";

/** What is written in that language; else in the company's usual one, in English, or in whichever there is. */
export function textIn<T>(
  texts: Readonly<Record<string, T>>,
  language: string,
  company: Pick<Company, "languages">,
): T | undefined {
  return texts[language] ?? texts[usualLanguage(company)] ?? texts.en ?? Object.values(texts)[0];
}
