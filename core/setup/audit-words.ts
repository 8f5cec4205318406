import type { Condition } from "../condition/tree.ts";
import { clockTime, localDate } from "../time/words.ts";

/** One thing that differs, as somebody would say it: where it stands, what it was, and what it is. */
export interface Difference {
  /** From the outside in: `rule Lodges`, `minutes to take it`. */
  readonly where: readonly string[];
  /** Null where there was nothing. */
  readonly was: string | null;
  /** Null where there is nothing now. */
  readonly is: string | null;
}

/** So many differences are said; a list that was exchanged whole has no end of them. */
const MOST = 60;
/** So much of a text is said (characters). */
const LONGEST = 160;
/** How deep values are compared; deeper, they are said whole. */
const DEPTH = 6;

/** Keys whose plain name says too little. */
const CALLED: Readonly<Record<string, string>> = {
  offerMinutes: "minutes to take it",
  when: "for whom",
  to: "goes to",
  off: "switched off",
  offDuty: "off duty",
  left: "has left",
  def: "what it is",
  formerLines: "lines it had before",
  lineOwnerId: "whose line it is",
  coverId: "cover",
  personId: "person",
};

/** A key as words: `noticeMinutes` is `notice minutes`. */
const spoken = (key: string): string =>
  CALLED[key] ??
  key
    .replace(/Id$/, "")
    .replace(/([a-z0-9])([A-Z])/g, "$1 $2")
    .replace(/[-_]/g, " ")
    .toLowerCase();

type Bag = Readonly<Record<string, unknown>>;
const isBag = (value: unknown): value is Bag =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** What an item of a list is told apart by; null when it is a plain value. */
function handle(item: unknown): string | null {
  if (!isBag(item)) return null;
  for (const key of ["id", "key", "personId", "date", "name"])
    if (typeof item[key] === "string") return `${key}=${item[key]}`;
  return null;
}

/** What is known beside the values themselves. */
interface Known {
  /** What an id is called; null for what is none. */
  readonly nameOf: (id: string) => string | null;
  /** The zone times are said in. */
  readonly zone: string;
  /** A condition as a sentence. */
  readonly asked: (condition: Condition) => string;
}

/**
 * What differs between two values of the set-up, said so that nobody need read code. Never throws, and ends: what is deep or long is cut.
 */
export function differences(
  before: unknown,
  after: unknown,
  { nameOf, zone, asked }: Known,
): readonly Difference[] {
  const found: Difference[] = [];
  const called = (item: unknown, fallback: string): string => {
    if (!isBag(item)) return fallback;
    const { name, date, id, key, personId } = item;
    const own = [name, date].find((v): v is string => typeof v === "string" && v !== "");
    const other = [personId, id, key].find((v): v is string => typeof v === "string");
    return own ?? (other ? (nameOf(other) ?? other) : fallback);
  };
  const say = (value: unknown, depth = 0): string | null => {
    if (value === null || value === undefined || value === "") return null;
    if (typeof value === "boolean") return value ? "yes" : "no";
    if (typeof value === "number")
      return value > 1e12 && value < 4e12
        ? `${localDate(value, zone)} ${clockTime(value, zone)}`
        : String(value);
    if (typeof value === "string") {
      const text = nameOf(value) ?? value;
      return text.length > LONGEST ? `${text.slice(0, LONGEST)}…` : text;
    }
    if (depth > DEPTH) return "…";
    if (Array.isArray(value)) {
      const parts = value.slice(0, 20).map((v) => say(v, depth + 1) ?? "nothing");
      return parts.length === 0 ? null : `${parts.join(", ")}${value.length > 20 ? " …" : ""}`;
    }
    const parts = Object.entries(value as Bag)
      .filter(([key, v]) => key !== "id" && say(v, depth + 1) !== null)
      .map(([key, v]) => `${spoken(key)} ${say(key === "when" ? condition(v) : v, depth + 1)}`);
    const text = parts.join("; ");
    return text.length > 2 * LONGEST ? `${text.slice(0, 2 * LONGEST)}…` : text || null;
  };
  // What was kept long ago may be no condition any more: it is said as it stands.
  const condition = (value: unknown): unknown => {
    try {
      return isBag(value) ? asked(value as unknown as Condition) : value;
    } catch {
      return value;
    }
  };
  const put = (where: readonly string[], was: unknown, is: unknown) => {
    const [old, now] = [say(was), say(is)];
    if (old !== now && found.length < MOST) found.push({ where, was: old, is: now });
  };
  const walk = (was: unknown, is: unknown, where: readonly string[], depth: number): void => {
    if (found.length >= MOST || JSON.stringify(was ?? null) === JSON.stringify(is ?? null)) return;
    const lists = Array.isArray(was) && Array.isArray(is);
    if (depth < DEPTH && isBag(was) && isBag(is)) {
      for (const key of new Set([...Object.keys(was), ...Object.keys(is)]))
        if (key === "when") put([...where, spoken(key)], condition(was[key]), condition(is[key]));
        else if (key !== "version") walk(was[key], is[key], [...where, spoken(key)], depth + 1);
    } else if (depth >= DEPTH || !lists) put(where, was, is);
    else if ([...was, ...is].some((item) => handle(item) === null)) plainLists(was, is, where);
    else items(was, is, where, depth);
  };
  const plainLists = (was: readonly unknown[], is: readonly unknown[], where: readonly string[]): void => {
    const without = (list: readonly unknown[], other: readonly unknown[]) => {
      const there = new Set(other.map((v) => JSON.stringify(v)));
      return list.filter((v) => !there.has(JSON.stringify(v)));
    };
    const [gone, fresh] = [without(was, is), without(is, was)];
    if (gone.length + fresh.length > 0) put(where, gone, fresh);
    else put([...where, "order"], was, is);
  };
  const items = (
    was: readonly unknown[],
    is: readonly unknown[],
    where: readonly string[],
    depth: number,
  ) => {
    const old = new Map(was.map((item) => [handle(item), item]));
    const now = new Map(is.map((item) => [handle(item), item]));
    for (const [id, item] of old) {
      const next = now.get(id);
      const place = [...where, called(next ?? item, "one of them")];
      if (next === undefined) put(place, item, null);
      else walk(item, next, place, depth + 1);
    }
    for (const [id, item] of now) if (!old.has(id)) put([...where, called(item, "one of them")], null, item);
    const order = (list: ReadonlyMap<string | null, unknown>, other: ReadonlyMap<string | null, unknown>) =>
      [...list].filter(([id]) => other.has(id)).map(([, item]) => called(item, "one of them"));
    put([...where, "order"], order(old, now).join(", "), order(now, old).join(", "));
  };
  walk(before, after, [], 0);
  return found;
}
