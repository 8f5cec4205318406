/** Addresses of pages in what we write. */

const URL_IN_TEXT = /https?:\/\/[^\s<>"']+[^\s<>"'.,;:!?)]/g;

/** The addresses of pages in a text, each once, in the order they stand there. */
export function linksIn(text: string): readonly string[] {
  return [...new Set(text.match(URL_IN_TEXT) ?? [])];
}

const isPicture = (url: string) => /\.(png|jpe?g|gif|webp)$/i.test(url.split("?", 1)[0]!);

/** So many addresses of one text are exchanged; nobody writes a letter with more, and each costs a row. */
const MOST_EXCHANGED = 50;

/** Exchanges addresses, the same one always for the same; beyond the first fifty different ones they stay as they are. */
export function exchanging(by: (url: string) => string): (url: string) => string {
  const exchanged = new Map<string, string>();
  return (url) => {
    const known = exchanged.get(url);
    if (known !== undefined) return known;
    if (exchanged.size >= MOST_EXCHANGED) return url;
    const fresh = by(url);
    exchanged.set(url, fresh);
    return fresh;
  };
}

/** A text with each address of a page exchanged. Those of pictures stay: they are shown, not opened. */
export function exchangeLinks(text: string, by: (url: string) => string): string {
  const exchange = exchanging(by);
  return text.replace(URL_IN_TEXT, (url) => (isPicture(url) ? url : exchange(url)));
}
