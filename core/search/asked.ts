import { plain } from "./plain.ts";

/** One thing that is looked for; all of a search have to be there. */
export interface Term {
  /** Plain letters, or digits alone. */
  readonly text: string;
  /** A piece of a number, however it was written. */
  readonly digits: boolean;
}

/** What somebody looks for. */
export interface Asked {
  readonly terms: readonly Term[];
  /** Only of sources that are called so. */
  readonly from: readonly string[];
  /** Only what somebody has who is called so. */
  readonly with: readonly string[];
}

/** More of a search is not read. */
const LONGEST = 200;
const MOST_TERMS = 8;
/** Fewer digits are a number of things, not of a phone. */
const DIGITS = 3;

/**
 * Read a search as it was typed: words, and numbers however they are written (“(303) 555-0172” is one number);
 * `from:` names a source, `with:` a person. Never throws.
 */
export function readSearch(typed: string): Asked {
  const asked = { terms: [] as Term[], from: [] as string[], with: [] as string[] };
  let number = "";
  const endNumber = () => {
    const digits = withoutTrunk(number.replace(/\D/g, ""));
    if (digits.length >= DIGITS) asked.terms.push({ text: digits, digits: true });
    else if (digits) asked.terms.push({ text: digits, digits: false });
    number = "";
  };
  for (const word of plain(typed.slice(0, LONGEST)).split(/\s+/).filter(Boolean)) {
    if (/^[+()\d./–-]+$/.test(word) && /\d/.test(word)) {
      number += word;
      continue;
    }
    endNumber();
    const [, by, name] = /^(from|with):(.+)$/.exec(word) ?? [];
    if (by) asked[by as "from" | "with"].push(name!);
    else {
      const text = bare(word);
      if (text) asked.terms.push({ text, digits: false });
    }
  }
  endNumber();
  return { ...asked, terms: asked.terms.slice(0, MOST_TERMS) };
}

/** A word without the marks around it. */
function bare(word: string): string {
  const letters = [...word.matchAll(/[\p{L}\p{N}]/gu)];
  const [first, last] = [letters[0], letters.at(-1)];
  return first && last ? word.slice(first.index, last.index + last[0].length) : "";
}

/** A number as it is kept has no zero to dial before it, and no 00 for abroad. */
const withoutTrunk = (digits: string) => (digits.length > 6 ? digits.replace(/^0{1,2}/, "") : digits);
