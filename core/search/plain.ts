/** Letters that no decomposition takes apart, as people type them who lack the key. */
const AS_TYPED: Readonly<Record<string, string>> = {
  ß: "ss",
  ø: "o",
  đ: "d",
  ł: "l",
  æ: "ae",
  œ: "oe",
  þ: "th",
  ð: "d",
  ı: "i",
  "’": "'",
};

/** A text as it is searched: without capitals and accents. */
export function plain(text: string): string {
  return text
    .normalize("NFD")
    .replace(/\p{M}+/gu, "")
    .toLowerCase()
    .replace(/[ßøđłæœþðı’]/g, (letter) => AS_TYPED[letter]!);
}

/**
 * A text as it is searched, with the place in the text each of its letters came from, and the text's end last; null where
 * each stands where it stood.
 */
export function plainWithPlaces(text: string): {
  readonly plain: string;
  readonly places: readonly number[] | null;
} {
  // Nearly every name and number: each letter stays where it is.
  if (/^[\x20-\x7e\n]*$/.test(text)) return { plain: text.toLowerCase(), places: null };
  let made = "";
  const places: number[] = [];
  let at = 0;
  for (const letter of text) {
    const part = plain(letter);
    for (let i = 0; i < part.length; i++) places.push(at);
    made += part;
    at += letter.length;
  }
  return { plain: made, places: [...places, at] };
}

/** The words of a plain text: runs of letters and digits. */
export const wordsOf = (text: string): readonly string[] => text.match(/[\p{L}\p{N}]+/gu) ?? [];
