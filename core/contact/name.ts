/** What to call somebody in a message: the first word of the name, or null when there is none. */
export function firstName(name: string | null): string | null {
  const word = name?.trim().split(/\s+/)[0];
  return word ? word : null;
}

/** Two letters for a kite or a diamond: first and last word of the name, `?` when nothing is known. */
export function initials(name: string | null): string {
  const words = (name ?? "").trim().split(/\s+/).filter(Boolean);
  const letters = [words[0], words.length > 1 ? words.at(-1) : undefined].map((w) => (w ? [...w][0] : ""));
  return letters.join("").toUpperCase() || "?";
}

/** A name as written, with its spaces tidied; `ANA RUIZ` and `ana ruiz` get capitals, mixed case is kept. */
export function tidyName(written: string): string {
  const name = written.trim().replace(/\s+/g, " ");
  const shouted = name === name.toUpperCase() || name === name.toLowerCase();
  return shouted
    ? name.toLowerCase().replace(/(^|[\s'’-])(\p{L})/gu, (_, gap, letter) => gap + letter.toUpperCase())
    : name;
}
