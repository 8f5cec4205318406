/**
 * How long a text message is on the air. Source: 3GPP TS 23.038 (the 7-bit default alphabet and its extension
 * table) and TS 23.040 (parts of a long message carry a header of six octets).
 */

const BASIC = new Set(
  "@£$¥èéùìòÇ\nØø\rÅåΔ_ΦΓΛΩΠΨΣΘΞÆæßÉ !\"#¤%&'()*+,-./0123456789:;<=>?" +
    "¡ABCDEFGHIJKLMNOPQRSTUVWXYZÄÖÑÜ§¿abcdefghijklmnopqrstuvwxyzäöñüà",
);
/** These are sent as an escape and a second character. */
const EXTENDED = new Set("\f^{}\\[~]|€");

export interface Segments {
  readonly encoding: "GSM-7" | "UCS-2";
  /** Length in the encoding's own units: septets, or 16-bit code units. */
  readonly units: number;
  /** How many messages it is charged as; 0 for nothing written. */
  readonly parts: number;
  /** Units that still fit into the last part. */
  readonly room: number;
  /** The characters outside the 7-bit alphabet that made it UCS-2, each once. */
  readonly culprits: readonly string[];
}

const LIMITS = { "GSM-7": { alone: 160, each: 153 }, "UCS-2": { alone: 70, each: 67 } } as const;

/** Count the parts a text message is sent in, and say what made it long. */
export function segments(text: string): Segments {
  const characters = [...text];
  const culprits = [...new Set(characters.filter((c) => !BASIC.has(c) && !EXTENDED.has(c)))];
  const encoding = culprits.length === 0 ? "GSM-7" : "UCS-2";
  // Neither an escape and its character nor the halves of a surrogate pair may stand in different parts.
  const sizes = characters.map((c) => (encoding === "UCS-2" ? c.length : EXTENDED.has(c) ? 2 : 1));
  const units = sizes.reduce((a, b) => a + b, 0);
  const { alone, each } = LIMITS[encoding];
  if (units <= alone) return { encoding, units, parts: units === 0 ? 0 : 1, room: alone - units, culprits };
  let parts = 1;
  let used = 0;
  for (const size of sizes) {
    if (used + size > each) {
      parts++;
      used = 0;
    }
    used += size;
  }
  return { encoding, units, parts, room: each - used, culprits };
}

/** What a person would type instead, where that says the same: typographic quotes, dashes, dots. */
const PLAIN: Readonly<Record<string, string>> = {
  "‘": "'",
  "’": "'",
  "“": '"',
  "”": '"',
  "«": '"',
  "»": '"',
  "–": "-",
  "—": "-",
  "…": "...",
  " ": " ",
  "•": "-",
};

/** The same text with typographic characters in their plain form, so that it may fit the 7-bit alphabet. */
export function plainer(text: string): string {
  return text.replace(/[‘’“”«»–—… •]/g, (c) => PLAIN[c] ?? c);
}
