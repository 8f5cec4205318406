import { type Expression, sql as raw, type SqlBool } from "kysely";
import type { ByColumn } from "../../core/lead/column-store.ts";
import { countOf, type Mask } from "../../core/lead/column-store.ts";
import { SEPARATOR } from "../../core/lead/columns.ts";
import type { Lead } from "../../core/lead/lead.ts";
import type { Sql } from "../db/sql.ts";
import type { Columns } from "./columns.ts";
import type { LeadCache } from "./lead-cache.ts";
import type { Where } from "./where.ts";

/** What leads can be sorted by, and which way it is usual; what is not known comes last either way. */
export const SORTS = {
  recent: { column: "lastActivityAt", down: true },
  created: { column: "createdAt", down: true },
  name: { column: "called", down: false },
  company: { column: "company", down: false },
  stage: { column: "stage", down: false },
  product: { column: "product", down: false },
  value: { column: "value", down: true },
  tries: { column: "tries", down: true },
  tried: { column: "lastTryAt", down: true },
  due: { column: "dueAt", down: false },
} as const;
export type SortKey = keyof typeof SORTS;

/** An order: by what, and whether the other way round than usual. */
export interface Order {
  readonly by: SortKey;
  readonly reversed: boolean;
}

/** Reads `value` or `-value`; null when there is no such order. */
export function orderOf(text: string): Order | null {
  const by = text.replace(/^-/, "");
  return Object.hasOwn(SORTS, by) ? { by: by as SortKey, reversed: text.startsWith("-") } : null;
}

export interface Listed {
  readonly where: Where;
  readonly order: Order;
  /** Only what is this person's business; null for everything. */
  readonly of: string | null;
  /** Only those that came after that (epoch ms). */
  readonly since?: number;
}

export interface ListPage {
  readonly items: readonly Lead[];
  /** Goes on from here; null at the end. */
  readonly next: string | null;
}

/** Of what the database can't decide alone so many leads are looked at in one go. */
const MOST_ASKED = 4_000;
const AT_ONCE = 500;

interface Row {
  readonly id: string;
  readonly by: string | number | null;
}

/** The leads of a list before core has the last word, from memory or from the database. */
interface Found {
  /** Whether core has no last word. */
  readonly exact: boolean;
  rows(after: Row | null, limit: number): readonly Row[];
  count(): number;
  /** Ids in no order. */
  ids(most: number): readonly string[];
}

/** Leads that fit a condition, in any order, page by page. */
export class Listing {
  readonly #sql: Sql;
  readonly #leads: LeadCache;
  readonly #columns: Columns | null;

  /** `columns` answer where they can; the database else. */
  constructor(sql: Sql, leads: LeadCache, columns: Columns | null = null) {
    this.#sql = sql;
    this.#leads = leads;
    this.#columns = columns;
  }

  /**
   * A page of a list, after a place in it. Where core has the last word, a page may be shorter than asked for and go on all
   * the same: so many leads are looked at in one go, and no more.
   */
  page(list: Listed, limit: number, after: string | null): ListPage {
    const items: Lead[] = [];
    const found = this.#found(list);
    let place = after === null ? null : readPlace(after);
    for (let asked = 0; ; ) {
      const most = found.exact ? limit + 1 : AT_ONCE;
      const rows = found.rows(place, most);
      for (const row of rows) {
        const lead = this.#leads.get(row.id);
        asked++;
        if (lead && (found.exact || list.where.holds(lead))) {
          if (items.length === limit) return { items, next: place && writePlace(place) };
          items.push(lead);
        }
        place = row;
      }
      if (rows.length < most) return { items, next: null };
      if (!found.exact && asked >= MOST_ASKED) return { items, next: place && writePlace(place) };
    }
  }

  /** How many leads a list has; null when core has to be asked about more than can be looked at in one go. */
  count(list: Listed): number | null {
    const found = this.#found(list);
    return found.exact ? found.count() : (this.ids(list, MOST_ASKED)?.length ?? null);
  }

  /** The ids of a list's leads, in no order; null when there are more than `most`, or more than can be looked at in one go. */
  ids(list: Listed, most: number): string[] | null {
    const from = this.#found(list);
    const all = from.exact ? most : MOST_ASKED;
    const ids = from.ids(all + 1);
    if (ids.length > all) return null;
    if (from.exact) return [...ids];
    const fit = ids.filter((id) => {
      const lead = this.#leads.get(id);
      return lead && list.where.holds(lead);
    });
    return fit.length > most ? null : fit;
  }

  /** Every lead of a list, some at a time; between two the desk goes on. What changes meanwhile may be met or not. */
  async *all(list: Listed): AsyncGenerator<Lead> {
    for (let cursor: string | null = null; ; ) {
      const { items, next }: ListPage = this.page(list, AT_ONCE, cursor);
      yield* items;
      if (next === null) return;
      cursor = next;
      await new Promise((resolve) => setImmediate(resolve));
    }
  }

  #found(list: Listed): Found {
    const store = this.#columns?.now();
    if (store) {
      const { mask, exact } = list.where.masked(store);
      const { of, since } = list;
      const mine: Mask = of === null ? mask : store.ofPerson(mask, of);
      const all: Mask = since === undefined ? mine : store.cameAfter(mine, since);
      const { by, reversed } = list.order;
      const { column, down } = SORTS[by];
      const order: ByColumn = { column, down: down !== reversed };
      return {
        exact,
        rows: (after, limit) => store.first(all, order, after, limit),
        count: () => countOf(all),
        ids: (most) => store.idsOf(all, most),
      };
    }
    return {
      exact: list.where.exact,
      rows: (after, limit) => this.#rows(list, after, limit),
      count: () => {
        const [row] = this.#sql.once(this.#asked(list).select((eb) => eb.fn.countAll<number>().as("n")));
        return Number(row?.n ?? 0);
      },
      ids: (most) => this.#sql.once(this.#asked(list).select("id").limit(most)).map(({ id }) => id),
    };
  }

  #asked({ where, of, since }: Listed) {
    const found = this.#sql.q.selectFrom("leads").where(where.sql);
    const all = since === undefined ? found : found.where("createdAt", ">", since);
    return of === null ? all : all.where(raw<SqlBool>`instr(people, ${SEPARATOR + of + SEPARATOR}) > 0`);
  }

  #rows(list: Listed, after: Row | null, limit: number): Row[] {
    const { by, reversed } = list.order;
    const sort = SORTS[by];
    const down = sort.down !== reversed;
    const column = raw.ref<string | number | null>(`leads.${sort.column}`);
    const direction = down ? "desc" : "asc";
    let found = this.#asked(list).select(["id", column.as("by")]);
    if (MAY_LACK.has(sort.column)) found = found.orderBy(raw`${column} is null`);
    found = found.orderBy(column, direction).orderBy("id", direction).limit(limit);
    if (after === null) return this.#sql.once(found);
    // Of what is always known a row value, so that the index is entered at its place.
    const rest = MAY_LACK.has(sort.column)
      ? beyond(column, after, down)
      : raw<SqlBool>`(${column}, leads.id) ${down ? raw`<` : raw`>`} (${after.by}, ${after.id})`;
    return this.#sql.once(found.where(rest));
  }
}

const MAY_LACK: ReadonlySet<string> = new Set(["company", "product", "value", "lastTryAt", "dueAt"]);

/** What comes after a row in its order. */
function beyond(column: Expression<unknown>, { by, id }: Row, down: boolean): Expression<SqlBool> {
  const later = down ? raw`<` : raw`>`;
  const sameAndLater = raw<SqlBool>`leads.id ${later} ${id}`;
  return by === null
    ? raw<SqlBool>`(${column} is null and ${sameAndLater})`
    : raw<SqlBool>`(${column} is null or ${column} ${later} ${by} or (${column} = ${by} and ${sameAndLater}))`;
}

const writePlace = ({ by, id }: Row): string => Buffer.from(JSON.stringify([by, id])).toString("base64url");

/** The place a text of {@link writePlace} names; the beginning where it names none. */
function readPlace(text: string): Row | null {
  try {
    const [by, id] = JSON.parse(Buffer.from(text, "base64url").toString("utf8")) as unknown[];
    const known = by === null || typeof by === "string" || typeof by === "number";
    return known && typeof id === "string" ? { by, id } : null;
  } catch {
    return null;
  }
}
