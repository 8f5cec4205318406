import { compileTest, fold, wanted } from "../condition/operators.ts";
import type { Condition, FieldKey, FieldValue, Test } from "../condition/tree.ts";
import type { Setup } from "../policy/setup.ts";
import { startOfLocalDate } from "../time/defer.ts";
import { clockTime, localDate, weekdayName } from "../time/words.ts";
import {
  DAY_FIELDS,
  type LeadColumns,
  LISTED_NUMBERS,
  LISTED_TEXTS,
  NUMBER_FIELDS,
  SEPARATOR,
  TEXT_FIELDS,
} from "./columns.ts";
import { daysSince } from "./fields.ts";

/** What a lead is listed by, whole. Times are epoch ms. */
export interface ListedLead extends LeadColumns {
  readonly id: string;
  readonly place: string;
  readonly ownerId: string | null;
  readonly createdAt: number;
  readonly lastActivityAt: number;
  /** The cadences it is in now, as {@link LeadColumns.tags} are kept. */
  readonly cadences: string | null;
}

const TEXTS = [...LISTED_TEXTS, "place", "ownerId", "cadences"] as const;
const NUMBERS = [...LISTED_NUMBERS, "createdAt", "lastActivityAt"] as const;
type TextColumn = (typeof TEXTS)[number];
type NumberColumn = (typeof NUMBERS)[number];

/** One byte a lead: 1 for those that are meant. */
export type Mask = Uint8Array;
export interface Masked {
  readonly mask: Mask;
  /** Whether that is all of the condition: else each lead found is to be asked once more. */
  readonly exact: boolean;
}

/** Where a lead stands in an order. */
export interface Place {
  readonly id: string;
  /** Null for what is not known: that comes last, whichever way. */
  readonly by: string | number | null;
}

/** An order by a column; `down` for the largest first. Among equals it goes by id, the same way. */
export interface ByColumn {
  readonly column: TextColumn | NumberColumn;
  readonly down: boolean;
}

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const FIRST_ROOM = 1_024;
/** So many rows are gone through in one go. */
const BLOCK = 1_024;

/** A step that meets every one of so many blocks, far from the one before. */
function stepOf(blocks: number): number {
  let step = Math.max(1, Math.floor(blocks * 0.618));
  while (commonFactor(step, blocks) > 1) step++;
  return step;
}

const commonFactor = (a: number, b: number): number => (b === 0 ? a : commonFactor(b, a % b));

/** How rows stand in an order. */
interface Keys {
  readonly keys: Float64Array;
  readonly keyOf: (by: string | number | null) => number;
  readonly by: (row: number) => string | number | null;
  /** What tells apart rows under one key; null where the key says it all. */
  readonly said: (row: number) => string | null;
}

const isTextColumn = (column: TextColumn | NumberColumn): column is TextColumn =>
  (TEXTS as readonly string[]).includes(column);

/**
 * The first seven letters of a text as one number: of two texts the smaller has no larger one. A letter beyond ASCII counts
 * as the largest, and what follows it not at all.
 */
function headOf(text: string, from = 0): number {
  let head = 0;
  let past = false;
  for (let i = from; i < from + 7; i++) {
    const letter: number = past || i >= text.length ? 0 : Math.min(127, text.charCodeAt(i) + 1);
    past ||= letter === 127;
    head = head * 128 + letter;
  }
  return head;
}

/** Answers of one column, each different one once; `codes` says which is each lead's (-1 for none). */
class Texts {
  codes = new Int32Array(FIRST_ROOM).fill(-1);
  readonly said: string[] = [];
  /** The head of each: most pairs are told apart by it. */
  heads = new Float64Array(FIRST_ROOM);
  readonly #known = new Map<string, number>();

  grow(room: number): void {
    const codes = new Int32Array(room).fill(-1);
    codes.set(this.codes);
    this.codes = codes;
  }

  put(row: number, text: string | null): void {
    if (text === null) {
      this.codes[row] = -1;
      return;
    }
    let code = this.#known.get(text);
    if (code === undefined) {
      code = this.said.length;
      if (code === this.heads.length) {
        const heads = new Float64Array(code * 2);
        heads.set(this.heads);
        this.heads = heads;
      }
      this.heads[code] = headOf(text);
      this.said.push(text);
      this.#known.set(text, code);
    }
    this.codes[row] = code;
  }
}

/**
 * What leads are listed by, column by column in memory, so that a question about all of a million leads takes some
 * milliseconds: a text is asked about once for all leads that share it, and numbers lie side by side. It answers exactly as
 * conditions do. Rows are given again once their lead is gone.
 */
export class ColumnStore {
  readonly #rows = new Map<string, number>();
  readonly #ids: string[] = [];
  readonly #free: number[] = [];
  readonly #texts: Record<TextColumn, Texts>;
  readonly #numbers: Record<NumberColumn, Float64Array>;
  #alive = new Uint8Array(FIRST_ROOM);
  /** Heads of ids behind what all of them begin with. */
  #births = new Float64Array(FIRST_ROOM);
  #prefix: string | null = null;

  constructor() {
    this.#texts = Object.fromEntries(TEXTS.map((name) => [name, new Texts()])) as Record<TextColumn, Texts>;
    this.#numbers = Object.fromEntries(NUMBERS.map((name) => [name, new Float64Array(FIRST_ROOM)])) as Record<
      NumberColumn,
      Float64Array
    >;
  }

  /** How many leads it holds. */
  get size(): number {
    return this.#rows.size;
  }

  /** Keep a lead, or how it is now. */
  put(lead: ListedLead): void {
    let row = this.#rows.get(lead.id);
    if (row === undefined) {
      row = this.#free.pop() ?? this.#ids.length;
      if (row >= this.#alive.length) this.#grow();
      this.#ids[row] = lead.id;
      this.#rows.set(lead.id, row);
      this.#alive[row] = 1;
      this.#born(row, lead.id);
    }
    for (const name of TEXTS) this.#texts[name].put(row, lead[name]);
    for (const name of NUMBERS) this.#numbers[name][row] = lead[name] ?? Number.NaN;
  }

  #born(row: number, id: string): void {
    this.#prefix ??= id.slice(0, id.indexOf("_") + 1);
    if (!id.startsWith(this.#prefix)) {
      this.#prefix = "";
      for (let other = 0; other < this.#ids.length; other++) this.#births[other] = headOf(this.#ids[other]!);
    }
    this.#births[row] = headOf(id, this.#prefix.length);
  }

  /** Forget a lead. */
  remove(id: string): void {
    const row = this.#rows.get(id);
    if (row === undefined) return;
    this.#rows.delete(id);
    this.#alive[row] = 0;
    this.#free.push(row);
  }

  #grow(): void {
    const room = this.#alive.length * 2;
    const alive = new Uint8Array(room);
    alive.set(this.#alive);
    this.#alive = alive;
    const births = new Float64Array(room);
    births.set(this.#births);
    this.#births = births;
    for (const name of TEXTS) this.#texts[name].grow(room);
    for (const name of NUMBERS) {
      const numbers = new Float64Array(room);
      numbers.set(this.#numbers[name]);
      this.#numbers[name] = numbers;
    }
  }

  /** The leads a condition holds for at `now` (epoch ms); more of them where it asks what is not kept here. Never throws. */
  mask(condition: Condition | null, setup: Setup, now: number): Masked {
    const all = this.#alive.slice(0, this.#ids.length);
    if (!condition) return { mask: all, exact: true };
    const { mask, exact } = this.#tree(condition, setup, now);
    return { mask: and(mask, all), exact };
  }

  /** Of these leads those that are a person's business. */
  ofPerson(mask: Mask, personId: string): Mask {
    return and(
      mask,
      this.#where("people", (people) => people?.includes(SEPARATOR + personId + SEPARATOR) ?? false),
    );
  }

  /** Of these leads those that came after a time (epoch ms). */
  cameAfter(mask: Mask, since: number): Mask {
    return and(mask, not(this.#within("createdAt", -Infinity, since)));
  }

  /** The first leads after a place in an order. */
  first(mask: Mask, order: ByColumn, after: Place | null, limit: number): Place[] {
    if (limit <= 0) return [];
    const { keys, keyOf, by, said } = this.#keys(order, mask.length);
    const ids = this.#ids;
    const births = this.#births;
    const { down } = order;
    const place = after && {
      ...after,
      key: keyOf(after.by),
      birth: after.id.startsWith(this.#prefix ?? "") ? headOf(after.id, this.#prefix?.length) : null,
    };
    /** Whether one stands behind another that has the same key. */
    const later = (row: number, than: string | number | null, birth: number | null, id: string): boolean => {
      const text = said(row);
      if (text !== null && text !== than) return down ? text < than! : text > than!;
      const own = births[row]!;
      if (birth !== null && own !== birth) return down ? own < birth : own > birth;
      return down ? ids[row]! < id : ids[row]! > id;
    };
    const behind = (a: number, b: number) => later(a, said(b), births[b]!, ids[b]!);
    const compare = (a: number, b: number): number =>
      keys[a]! - keys[b]! || (a === b ? 0 : behind(a, b) ? 1 : -1);
    let kept: number[] = [];
    let worst = -1;
    let worstKey = Number.POSITIVE_INFINITY;
    const best = () => {
      kept = kept.sort(compare).slice(0, limit);
      if (kept.length < limit) return;
      worst = kept[limit - 1]!;
      worstKey = keys[worst]!;
    };
    // Block by block in a scattered order: leads lie as they came, and each would be better than all before it.
    const blocks = Math.ceil(mask.length / BLOCK);
    const step = stepOf(blocks);
    for (let n = 0, block = 0; n < blocks; n++, block = (block + step) % blocks)
      for (let row = block * BLOCK, end = Math.min(row + BLOCK, mask.length); row < end; row++) {
        if (mask[row] === 0) continue;
        const key = keys[row]!;
        if (key > worstKey) continue;
        if (key === worstKey && worst >= 0 && behind(row, worst)) continue;
        if (place !== null) {
          if (key < place.key) continue;
          if (key === place.key && !later(row, place.by, place.birth, place.id)) continue;
        }
        kept.push(row);
        if (kept.length >= limit * 2) best();
      }
    best();
    return kept.map((row) => ({ id: ids[row]!, by: by(row) }));
  }

  /** The ids of these leads, in no order, so many at most. */
  idsOf(mask: Mask, most: number): string[] {
    const ids: string[] = [];
    for (let row = 0; row < mask.length && ids.length < most; row++)
      if (mask[row] === 1) ids.push(this.#ids[row]!);
    return ids;
  }

  /**
   * What rows are compared by in an order, the smallest first whichever way it is asked: a number each, infinite for what is
   * not known. Texts that begin alike share one.
   */
  #keys({ column, down }: ByColumn, length: number): Keys {
    const keys = new Float64Array(length);
    const way = down ? -1 : 1;
    if (!isTextColumn(column)) {
      const numbers = this.#numbers[column];
      for (let row = 0; row < length; row++) {
        const number = numbers[row]!;
        keys[row] = Number.isNaN(number) ? Number.POSITIVE_INFINITY : way * number;
      }
      return {
        keys,
        keyOf: (by) => (by === null ? Number.POSITIVE_INFINITY : way * Number(by)),
        by: (row) => (Number.isNaN(numbers[row]!) ? null : numbers[row]!),
        said: () => null,
      };
    }
    const { codes, said, heads } = this.#texts[column];
    const by = (row: number) => said[codes[row]!] ?? null;
    for (let row = 0; row < length; row++) {
      const code = codes[row]!;
      keys[row] = code < 0 ? Number.POSITIVE_INFINITY : way * heads[code]!;
    }
    return {
      keys,
      keyOf: (text) => (text === null ? Number.POSITIVE_INFINITY : way * headOf(String(text))),
      by,
      said: by,
    };
  }

  #tree(condition: Condition, setup: Setup, now: number): Masked {
    if ("field" in condition) {
      const mask = this.#test(condition, setup, now);
      return mask ? { mask, exact: true } : { mask: this.#every(true), exact: false };
    }
    const [kind] = Object.keys(condition) as ["all" | "any" | "none"];
    const parts = (condition as Record<string, readonly Condition[]>)[kind]!.map((c) =>
      this.#tree(c, setup, now),
    );
    const exact = parts.every((p) => p.exact);
    const masks = (of: readonly Masked[]) => of.map((p) => p.mask);
    if (kind === "all") return { mask: masks(parts).reduce(and, this.#every(true)), exact };
    if (kind === "any") return { mask: masks(parts).reduce(or, this.#every(false)), exact };
    // What is asked too widely can't be turned round: only what is exact keeps a lead out.
    const out = masks(parts.filter((p) => p.exact)).reduce(or, this.#every(false));
    return { mask: not(out), exact };
  }

  #every(is: boolean): Mask {
    return new Uint8Array(this.#ids.length).fill(is ? 1 : 0);
  }

  /** The leads whose text a question holds for, asked once for each text there is. */
  #where(column: TextColumn, asks: (text: string | null) => boolean): Mask {
    const { codes, said } = this.#texts[column];
    const mask = new Uint8Array(this.#ids.length);
    const none = asks(null) ? 1 : 0;
    // 2 for what was not asked yet: most questions are about columns with few texts, some about as many as leads.
    const answers = new Uint8Array(said.length).fill(2);
    for (let row = 0; row < mask.length; row++) {
      const code = codes[row]!;
      if (code < 0) mask[row] = none;
      else {
        if (answers[code] === 2) answers[code] = asks(said[code]!) ? 1 : 0;
        mask[row] = answers[code]!;
      }
    }
    return mask;
  }

  /** The leads whose number lies between two, both included; `unknown` for those that have none. */
  #within(column: NumberColumn, low: number, high: number, unknown = false): Mask {
    const numbers = this.#numbers[column];
    const mask = new Uint8Array(this.#ids.length);
    for (let row = 0; row < mask.length; row++) {
      const number = numbers[row]!;
      mask[row] = number >= low && number <= high ? 1 : 0;
    }
    if (unknown) for (let row = 0; row < mask.length; row++) if (Number.isNaN(numbers[row]!)) mask[row] = 1;
    return mask;
  }

  /** The leads whose number a question holds for, asked once for each number there is. */
  #number(column: NumberColumn, asks: (answer: number | null) => boolean): Mask {
    const numbers = this.#numbers[column];
    const mask = new Uint8Array(this.#ids.length);
    const answers = new Map<number, number>();
    for (let row = 0; row < mask.length; row++) {
      const number = numbers[row]!;
      let answer = answers.get(number);
      if (answer === undefined) {
        answer = asks(Number.isNaN(number) ? null : number) ? 1 : 0;
        answers.set(number, answer);
      }
      mask[row] = answer;
    }
    return mask;
  }

  /** A test of a number; most are a range. */
  #range(test: Test, column: NumberColumn): Mask {
    const bound = Number(test.value);
    if (Number.isFinite(bound) && test.is === "at-least") return this.#within(column, bound, Infinity);
    if (Number.isFinite(bound) && test.is === "at-most") return this.#within(column, -Infinity, bound);
    return this.#number(column, compileTest(test));
  }

  /** A test of the whole days since a time; most are a range of times. */
  #days(test: Test, column: NumberColumn, now: number): Mask {
    const bound = Number(test.value);
    if (Number.isFinite(bound) && test.is === "at-least")
      return this.#within(column, -Infinity, now - Math.ceil(bound) * DAY);
    // Younger than a day more: the last moment that is too old lies just outside.
    if (Number.isFinite(bound) && test.is === "at-most") {
      const old = this.#within(column, -Infinity, now - (Math.floor(bound) + 1) * DAY, true);
      return not(old);
    }
    const asks = compileTest(test);
    return this.#number(column, (at) => asks(at === null ? null : daysSince(at, now)));
  }

  /** The leads a test holds for; null where what it asks is not kept here. */
  #test(test: Test, setup: Setup, now: number): Mask | null {
    const { field } = test;
    const asks = compileTest(test);
    const text = WORDS[field];
    if (text) return this.#where(text, asks);
    const number = FIGURES[field];
    if (number) return this.#range(test, number);
    const since = DAYS[field];
    if (since) return this.#days(test, since, now);
    const { sources, policies } = setup;
    const source = (id: string | null) => sources.find((s) => s.id === id);
    switch (field) {
      case "source":
        return this.#where("sourceId", (id) => asks(source(id)?.key ?? null));
      case "channel":
        return this.#where("sourceId", (id) => asks(source(id)?.channel ?? null));
      case "country":
        return this.#where("territory", (key) =>
          asks(policies.territories.find((t) => fold(t.key) === key)?.country ?? null),
        );
      case "reached":
        return this.#number("reached", (is) => asks(is ? "yes" : "no"));
      case "came-before":
        return this.#number("inquiries", (n) => asks((n ?? 0) > 1 ? "yes" : "no"));
      case "tag":
      case "cadence":
        // A tag may hold what stands between tags; nothing is said then that could be wrong.
        if (wanted(test).some((w) => w.includes(SEPARATOR))) return null;
        return this.#where(field === "tag" ? "tags" : "cadences", (all) => asks(parted(all)));
      case "time-of-day":
        return this.#every(asks(clockTime(now, policies.desk.zone)));
      case "weekday":
        return this.#every(asks(weekdayName(now, policies.desk.zone)));
      case "first-came":
        return this.#date(test, policies.desk.zone);
      default:
        return null;
    }
  }

  /** A local date is a time: null where a clock change lies so that dates go back and forth about it. */
  #date(test: Test, zone: string): Mask | null {
    if (test.is === "known" || test.is === "unknown") return this.#every(test.is === "known");
    const [date] = wanted(test);
    const from = date === undefined ? null : dateBegins(date, zone);
    if (from === null || (test.is !== "from" && test.is !== "before")) return null;
    const since = this.#within("createdAt", from, Infinity);
    return test.is === "from" ? since : not(since);
  }
}

/** When a local date begins (epoch ms), where every time from then on has that date or a later one, and none before; else null. */
export function dateBegins(date: string, zone: string): number | null {
  const from = startOfLocalDate(date, zone);
  if (from === null) return null;
  for (let at = from - 2 * HOUR; at <= from + 2 * HOUR; at += HOUR / 4)
    if (localDate(at, zone) >= date !== at >= from) return null;
  return from;
}

const parted = (all: string | null): FieldValue => (all === null ? [] : all.slice(1, -1).split(SEPARATOR));

const WORDS: Partial<Record<FieldKey, TextColumn>> = { ...TEXT_FIELDS, owner: "ownerId", state: "place" };
const FIGURES: Partial<Record<FieldKey, NumberColumn>> = NUMBER_FIELDS;
const DAYS: Partial<Record<FieldKey, NumberColumn>> = DAY_FIELDS;

/** Both. Changes the first, and gives it. */
function and(a: Mask, b: Mask): Mask {
  for (let i = 0; i < a.length; i++) a[i]! &= b[i]!;
  return a;
}

/** One or the other. Changes the first, and gives it. */
function or(a: Mask, b: Mask): Mask {
  for (let i = 0; i < a.length; i++) a[i]! |= b[i]!;
  return a;
}

/** The others. Changes what it is given, and gives it. */
function not(mask: Mask): Mask {
  for (let i = 0; i < mask.length; i++) mask[i]! ^= 1;
  return mask;
}

/** How many leads are meant. */
export function countOf(mask: Mask): number {
  let n = 0;
  for (let i = 0; i < mask.length; i++) n += mask[i]!;
  return n;
}
