/** What stands where somebody outside wrote an address of a page. */
const INSTEAD = "[link]";

/** A dot that two words are joined by, as in `example.com`: what mail programs and phones make a link of. */
const JOINED = /\.(?=\p{L}{2})/gu;

/**
 * Words from outside, fit to be sent on by us: nothing in them is a link, or becomes one where it is read. Addresses of
 * pages give way to a mark, and names of places (`example.com`) are parted. Anybody can write anything into a form, under
 * anybody's address: what we send must not carry it to them as a link of ours. Linear in the text.
 */
export function unlinked(text: string): string {
  return text.replace(/\S+/g, (word) => {
    if (!word.includes(".") && !word.includes(":")) return word;
    if (word.includes("://") || /www\./i.test(word) || /\.\p{L}{2,20}[/?#:]/u.test(word)) return INSTEAD;
    return word.replace(JOINED, ". ");
  });
}

/** {@link unlinked} for what may not be known. */
export const unlinkedOrNull = (text: string | null): string | null => (text === null ? null : unlinked(text));
