/**
 * Which words are one typing error apart: a letter too many, too few, another one, or two that changed places (Damerau's
 * four). Two such words always meet in a **gap**: a word with one letter left out, or as it is. So every near word is
 * found by as many exact lookups as a word has letters, among any number of words.
 */

/** From so many letters on a word has gaps: shorter ones would be near half the others. */
export const NEAR_FROM = 4;
/** What is longer is no word but a code: it is looked for as it is. */
const NEAR_TO = 24;

/** The gaps of a plain word, itself first; none of a word that is too short or too long. */
export function gapsOf(word: string): readonly string[] {
  const letters = [...word];
  if (letters.length < NEAR_FROM || letters.length > NEAR_TO) return [];
  return [
    ...new Set([
      word,
      ...letters.map((_, i) =>
        letters
          .slice(0, i)
          .concat(letters.slice(i + 1))
          .join(""),
      ),
    ]),
  ];
}

/** Whether two plain words are the same or one typing error apart. In linear time. */
export function isNear(one: string, other: string): boolean {
  const [a, b] = [[...one], [...other]];
  if (Math.abs(a.length - b.length) > 1) return false;
  let from = 0;
  while (from < a.length && from < b.length && a[from] === b[from]) from++;
  let [i, j] = [a.length - 1, b.length - 1];
  while (i >= from && j >= from && a[i] === b[j]) {
    i--;
    j--;
  }
  const [left, right] = [i - from + 1, j - from + 1];
  if (left <= 1 && right <= 1) return true;
  return left === 2 && right === 2 && a[from] === b[from + 1] && a[from + 1] === b[from];
}
