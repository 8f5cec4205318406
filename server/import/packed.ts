import { LISTED_BY } from "../../core/lead/columns.ts";
import type { Found } from "../engine/commit.ts";
import type { PreparedLead } from "../engine/rows.ts";
import type { BadRow } from "./take-row.ts";

/**
 * Rows as they cross from the thread that prepares them to the one that writes them: bytes and where they are cut.
 * Objects cost ten times as much to hand over, and both threads have to clear them away.
 */
export interface PackedRows {
  readonly rows: readonly number[];
  /** {@link WIDTH} texts a row, one after the other, in UTF-8. */
  readonly bytes: Uint8Array;
  /** How many bytes each of them is. */
  readonly lengths: Uint32Array;
  /** The first lead among them: what the others have in common with it is not said again. */
  readonly like: FreshLead | null;
}

/** A lead as it is written when nobody knew the person. */
export type FreshLead = Pick<PreparedLead, "row" | "events">;

/**
 * By what the leads of many rows are found, if all of them are written: value and lead, or key and lead, a line each.
 * In order, so that writing them touches each page of an index once; cut into texts of a moderate size.
 */
export interface PackedFound {
  readonly values: readonly string[];
  readonly keys: readonly string[];
}

/** What is handed over at a time; `found` of all rows since the last one, after the rows. */
export interface Packed {
  readonly packs: readonly PackedRows[];
  readonly found: PackedFound | null;
}

/** The texts of a row by their place: of a good one; of a bad one, which has no lead, its cells and the reason. */
const TEXT = {
  leadId: 0,
  values: 1,
  leadJson: 2,
  search: 3,
  eventId: 4,
  actId: 5,
  data: 6,
  columns: 7,
} as const;
const BAD = { cells: 2, reason: 3 } as const;
const WIDTH = 8;
/** Between the numbers, addresses and keys of one lead: none of them holds a line break. */
const BREAK = "\n";
/** Pairs in one text of {@link PackedFound}. */
const PAIRS = 250;

/** By what leads are found, gathered until it is written all together. */
export class FoundPairs {
  // Texts of both sort several times faster than pairs.
  #values: string[] = [];
  #keys: string[] = [];

  add(leadId: string, values: readonly string[], keys: readonly string[]): void {
    for (const value of values) this.#values.push(`${value}${BREAK}${leadId}`);
    for (const key of keys) this.#keys.push(`${key}${BREAK}${leadId}`);
  }

  /** What was gathered since the last time. */
  take(): PackedFound {
    const found = { values: packPairs(this.#values), keys: packPairs(this.#keys) };
    this.#values = [];
    this.#keys = [];
    return found;
  }
}

function packPairs(pairs: string[]): string[] {
  pairs.sort();
  const texts: string[] = [];
  for (let at = 0; at < pairs.length; at += PAIRS) texts.push(pairs.slice(at, at + PAIRS).join(BREAK));
  return texts;
}

/** The pairs of one text of {@link PackedFound}. */
export function unpackPairs(text: string): Found[] {
  const lines = text.split(BREAK);
  return Array.from({ length: lines.length / 2 }, (_, i) => [lines[2 * i]!, lines[2 * i + 1]!]);
}

/** Bytes to begin a pack with: of about a hundred rows. */
const ROOM = 1 << 18;

/** Packs rows one after the other, so that of each nothing is left but its bytes. */
export class Packer {
  #rows: number[] = [];
  #lengths: number[] = [];
  #bytes = Buffer.allocUnsafeSlow(ROOM);
  #used = 0;
  #like: FreshLead | null = null;
  /** By what the rows' leads are found. */
  readonly found = new FoundPairs();

  bad({ row, cells, reason }: BadRow): void {
    this.#rows.push(row);
    for (const text of ["", "", JSON.stringify(cells), reason, "", "", "", ""]) this.#write(text);
  }

  good(number: number, { row, events, claims, keys }: PreparedLead): void {
    const event = events[0]!;
    if (events.length !== 1) throw new Error("A kept row begins its lead with one event.");
    this.#like ??= { row, events };
    this.#rows.push(number);
    this.#write(row.id);
    this.#write(claims.join(BREAK));
    this.#write(row.leadJson);
    this.#write(row.search);
    this.#write(event.id);
    this.#write(event.actId);
    this.#write(event.dataJson);
    this.#write(JSON.stringify(LISTED_BY.map((column) => row[column])));
    this.found.add(row.id, claims, keys);
  }

  #write(text: string): void {
    // No character takes more than three bytes of UTF-8 for each of its units.
    const most = this.#used + text.length * 3;
    if (most > this.#bytes.length) {
      const larger = Buffer.allocUnsafeSlow(Math.max(most, this.#bytes.length * 2));
      this.#bytes.copy(larger, 0, 0, this.#used);
      this.#bytes = larger;
    }
    const length = this.#bytes.write(text, this.#used);
    this.#lengths.push(length);
    this.#used += length;
  }

  /** What was packed since the last time. */
  take(): PackedRows {
    const packed = {
      rows: this.#rows,
      bytes: new Uint8Array(this.#bytes.subarray(0, this.#used)),
      lengths: Uint32Array.from(this.#lengths),
      like: this.#like,
    };
    this.#rows = [];
    this.#lengths = [];
    this.#used = 0;
    this.#like = null;
    return packed;
  }
}

/** Reads packed rows. */
export class Unpacker {
  readonly rows: readonly number[];
  readonly #like: FreshLead | null;
  readonly #bytes: Buffer;
  readonly #starts: Uint32Array;

  constructor({ rows, bytes, lengths, like }: PackedRows) {
    this.rows = rows;
    this.#like = like;
    this.#bytes = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    this.#starts = new Uint32Array(lengths.length + 1);
    for (let i = 0; i < lengths.length; i++) this.#starts[i + 1] = this.#starts[i]! + lengths[i]!;
  }

  #text(at: number, which: number): string {
    const i = at * WIDTH + which;
    return this.#bytes.toString("utf8", this.#starts[i], this.#starts[i + 1]);
  }

  /** The row at that place, where it could not be understood; null where it could. */
  bad(at: number): BadRow | null {
    if (this.leadId(at) !== "") return null;
    const cells = JSON.parse(this.#text(at, BAD.cells)) as string[];
    return { row: this.rows[at]!, cells, reason: this.#text(at, BAD.reason) };
  }

  /** The lead that the row at that place begins if nobody knows the person; empty where it could not be understood. */
  leadId(at: number): string {
    return this.#text(at, TEXT.leadId);
  }

  /** That lead, as it is written. */
  fresh(at: number): FreshLead {
    const { row, events } = this.#like!;
    const id = this.leadId(at);
    const event = {
      ...events[0]!,
      id: this.#text(at, TEXT.eventId),
      leadId: id,
      actId: this.#text(at, TEXT.actId),
      dataJson: this.#text(at, TEXT.data),
    };
    const leadJson = this.#text(at, TEXT.leadJson);
    const values = JSON.parse(this.#text(at, TEXT.columns)) as unknown[];
    const columns = Object.fromEntries(LISTED_BY.map((column, i) => [column, values[i]]));
    return {
      row: { ...row, ...columns, id, leadJson, search: this.#text(at, TEXT.search) },
      events: [event],
    };
  }

  /** What the row's inquiry says, as the data of its event. */
  data(at: number): unknown {
    return JSON.parse(this.#text(at, TEXT.data));
  }

  /** By what the row surely is somebody we know; nothing for one that could not be understood. */
  values(at: number): readonly string[] {
    const text = this.#text(at, TEXT.values);
    return text === "" ? [] : text.split(BREAK);
  }
}
