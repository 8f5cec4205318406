import Papa from "papaparse";

/** Spreadsheets as they come: any usual encoding and dialect. */

export type Encoding = "utf-8" | "utf-16le" | "utf-16be" | "windows-1252";

/**
 * The encoding of a text file by its byte-order mark, else by whether it is valid UTF-8, else Windows-1252.
 * UTF-16 without a mark is told by its zero bytes. Source: Unicode standard, byte-order marks.
 */
export function encodingOf(head: Uint8Array): Encoding {
  if (head[0] === 0xff && head[1] === 0xfe) return "utf-16le";
  if (head[0] === 0xfe && head[1] === 0xff) return "utf-16be";
  const sample = head.subarray(0, 4_096);
  const zeros = [0, 0];
  for (let i = 0; i < sample.length; i++) if (sample[i] === 0) zeros[i % 2]!++;
  if (zeros[1]! > sample.length / 8) return "utf-16le";
  if (zeros[0]! > sample.length / 8) return "utf-16be";
  try {
    // The sample may end inside a character: a stream does not mind.
    new TextDecoder("utf-8", { fatal: true }).decode(sample, { stream: true });
    return "utf-8";
  } catch {
    return "windows-1252";
  }
}

/** The whole text of a file, without its byte-order mark. */
export function decodeTable(bytes: Uint8Array, encoding = encodingOf(bytes)): string {
  return new TextDecoder(encoding).decode(bytes).replace(/^\uFEFF/, "");
}

export interface Table {
  readonly delimiter: string;
  readonly headers: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

/** Header names as they are mapped by: none empty, none twice. */
export function headersOf(first: readonly string[]): string[] {
  const seen = new Map<string, number>();
  return first.map((raw, i) => {
    const name = raw.trim() || `column ${i + 1}`;
    const times = (seen.get(name) ?? 0) + 1;
    seen.set(name, times);
    return times > 1 ? `${name} (${times})` : name;
  });
}

/** What papaparse guesses among. */
export const DELIMITERS = [",", ";", "\t", "|"];

/** So much of a table is looked at for its headers (characters), and so many columns it may have. */
export const PEEKED = 300_000;
export const MOST_COLUMNS = 300;

/** What a spreadsheet program reads as a formula, also in full width or behind blanks. Source: OWASP, CSV injection. */
const FORMULA = /^[\s\u00a0\ufeff]*[=+\-@\t\r\uff1d\uff0b\uff0d\uff20]/;

/** The first rows of a table, for its headers and a preview. Quotes by RFC 4180. */
export function peekTable(text: string, rows = 50): Table {
  const parsed = Papa.parse<string[]>(text.slice(0, PEEKED), {
    preview: rows + 1,
    skipEmptyLines: "greedy",
    delimitersToGuess: DELIMITERS,
  });
  const [first = [], ...rest] = parsed.data;
  return { delimiter: parsed.meta.delimiter, headers: headersOf(first), rows: rest };
}

/** One row as named answers. What stands beyond the headers gets a name of its own; nothing is dropped. */
export function rowFields(headers: readonly string[], row: readonly string[]): Record<string, string> {
  const fields: Record<string, string> = {};
  for (let i = 0; i < row.length; i++) {
    const value = row[i]!.trim();
    if (value) fields[headers[i] ?? `column ${i + 1}`] = value;
  }
  return fields;
}

/** What headers a mapping is remembered by: the same columns in any order share it. */
export function headerKey(headers: readonly string[]): string {
  return [...headers]
    .map((h) => h.trim().toLowerCase())
    .sort()
    .join("\u001f");
}

/**
 * A table as CSV (RFC 4180), safe to open in a spreadsheet: cells that would be read as a formula are quoted with
 * an apostrophe. Source: OWASP, CSV injection.
 */
export function writeTable(headers: readonly string[], rows: readonly (readonly string[])[]): string {
  return Papa.unparse(
    { fields: [...headers], data: rows.map((r) => [...r]) },
    { escapeFormulae: FORMULA, newline: "\r\n" },
  );
}
