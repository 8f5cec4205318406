import type { Lead } from "../lead/lead.ts";
import type { Term } from "./asked.ts";
import { isNear, NEAR_FROM } from "./near.ts";
import type { About, Piece } from "./pieces.ts";
import { plainWithPlaces } from "./plain.ts";

const DAY = 86_400_000;

/** What a find is worth by where it stands. */
const WORTH: Readonly<Record<About, number>> = {
  name: 100,
  number: 95,
  company: 85,
  address: 75,
  field: 55,
  note: 40,
  said: 40,
};
/** And by how it stands there. */
const WHOLE = 1;
const BEGINS = 0.92;
const INSIDE = 0.7;
const NEAR = 0.6;
/** An open lead is looked for more often than a closed one, a fresh one more often than an old one. */
const OPEN = 12;
const FRESH = 8;
/** After so long half of a lead's freshness is gone. */
const HALF = 30 * DAY;

/** Where something was found: of the piece's text `[from, to)` each. */
export interface Found {
  readonly piece: Piece;
  readonly marks: readonly (readonly [number, number])[];
}

export interface Ranked {
  readonly points: number;
  /** The piece that says best why. */
  readonly found: Found;
}

interface Match {
  readonly quality: number;
  readonly mark: readonly [number, number];
}

/** How good what was found of a lead is for a search; null when a term is nowhere in it. Times in epoch ms. */
export function rank(
  terms: readonly Term[],
  lead: Lead,
  pieces: readonly Piece[],
  now: number,
): Ranked | null {
  const read = pieces.map((piece) => ({ piece, ...plainWithPlaces(piece.text) }));
  let points = 0;
  const marks = new Map<Piece, [number, number][]>();
  const worth = new Map<Piece, number>();
  for (const term of terms) {
    let best: { piece: Piece; points: number } | null = null;
    for (const { piece, plain, places } of read) {
      const match = matchOf(term, piece.about, plain);
      if (!match) continue;
      const worthOf = WORTH[piece.about] * match.quality;
      const [from, to] = match.mark;
      const mark: [number, number] = places ? [places[from]!, places[to]!] : [from, to];
      marks.set(piece, [...(marks.get(piece) ?? []), mark]);
      worth.set(piece, (worth.get(piece) ?? 0) + worthOf);
      if (!best || worthOf > best.points) best = { piece, points: worthOf };
    }
    if (!best) return null;
    points += best.points;
  }
  // A name stands beside what is shown: when it does not say all, the piece that says most of the rest is shown.
  const named = [...worth.keys()].find((p) => p.about === "name" && marks.get(p)!.length >= terms.length);
  const rest = [...worth].filter(([p]) => p.about !== "name").sort((a, b) => b[1] - a[1])[0]?.[0];
  const piece = named ?? rest ?? [...worth.keys()][0] ?? pieces[0];
  if (!piece) return null;
  const age = Math.max(0, now - lead.lastActivityAt);
  points += (lead.closed ? 0 : OPEN) + FRESH * 0.5 ** (age / HALF);
  return { points, found: { piece, marks: (marks.get(piece) ?? []).sort((a, b) => a[0] - b[0]) } };
}

/** So many digits are a number as it is dialled at home. */
const HOME = 6;

const isLetter = (text: string, at: number) => at >= 0 && at < text.length && /[\p{L}\p{N}]/u.test(text[at]!);

function matchOf({ text, digits }: Term, about: About, plain: string): Match | null {
  if (digits && about === "number") return inNumber(text, plain);
  for (let at = plain.indexOf(text), inside: Match | null = null; ; at = plain.indexOf(text, at + 1)) {
    if (at < 0) return inside ?? (digits ? null : nearIn(text, plain));
    const mark = [at, at + text.length] as const;
    if (!isLetter(plain, at - 1))
      return { quality: isLetter(plain, at + text.length) ? BEGINS : WHOLE, mark };
    inside ??= { quality: INSIDE, mark };
  }
}

/** Digits in a number that is written with brackets, blanks and strokes. */
function inNumber(digits: string, plain: string): Match | null {
  const places: number[] = [];
  for (let i = 0; i < plain.length; i++) if (plain[i]! >= "0" && plain[i]! <= "9") places.push(i);
  const bare = places.map((i) => plain[i]).join("");
  const at = bare.lastIndexOf(digits);
  if (at < 0) {
    // Typed with the country’s digits before it, which are not read out at home.
    const whole = bare.length >= HOME && digits.endsWith(bare);
    return whole ? { quality: WHOLE, mark: [places[0]!, places.at(-1)! + 1] } : null;
  }
  const ends = at + digits.length === bare.length;
  return { quality: ends ? WHOLE : INSIDE, mark: [places[at]!, places[at + digits.length - 1]! + 1] };
}

function nearIn(text: string, plain: string): Match | null {
  if (text.length < NEAR_FROM) return null;
  for (const { 0: word, index } of plain.matchAll(/[\p{L}\p{N}]+/gu))
    if (word.length >= NEAR_FROM && isNear(text, word))
      return { quality: NEAR, mark: [index, index + word.length] };
  return null;
}

/** So much of a long text is shown around what was found in it (characters). */
const BEFORE = 30;
const SHOWN = 110;

/** What of a piece is shown: the first place something was found at, and a little around it. */
export function excerpt({ piece, marks }: Found): {
  readonly text: string;
  readonly marks: readonly (readonly [number, number])[];
} {
  const flat = piece.text.replace(/\s/g, " ");
  const first = marks[0]?.[0] ?? 0;
  const from = flat.length <= SHOWN ? 0 : Math.max(0, first - BEFORE);
  const to = Math.min(flat.length, from + SHOWN);
  const [head, tail] = [from > 0 ? "… " : "", to < flat.length ? " …" : ""];
  const moved = marks
    .filter(([a, b]) => a >= from && b <= to)
    .map(([a, b]) => [a - from + head.length, b - from + head.length] as const);
  return { text: head + flat.slice(from, to) + tail, marks: moved };
}
