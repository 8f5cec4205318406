import type { Updateable } from "kysely";
import type { Right } from "../../core/access/access.ts";
import { conditionProblem } from "../../core/condition/condition.ts";
import type { Condition } from "../../core/condition/tree.ts";
import { fieldFinder } from "../../core/lead/fields.ts";
import type { Lead } from "../../core/lead/lead.ts";
import type { Person, Role } from "../../core/policy/people.ts";
import { type Problem, refuse } from "../../core/refusal.ts";
import { listColumns } from "../../core/words/columns.ts";
import type { ListLookRow } from "../db/schema.ts";
import type { Engine } from "../engine/engine.ts";
import { Columns } from "../read/columns.ts";
import { type Listed, Listing, orderOf } from "../read/listing.ts";
import { whereOf } from "../read/where.ts";

/** A filter with its columns and order, under a name. */
export interface SavedList {
  readonly id: string;
  readonly ownerId: string;
  readonly name: string;
  readonly where: Condition | null;
  readonly columns: readonly string[];
  readonly sort: string;
  /** Whoever made it, everybody, or all of a role. */
  readonly shared: "me" | "desk" | Role;
}

export interface ListOf extends SavedList {
  /** Pinned for whoever asks. */
  readonly pinned: boolean;
  /** When whoever asks has looked at it last (epoch ms); 0 when never. */
  readonly seenAt: number;
  /** Whether it is what they begin with. */
  readonly first: boolean;
  readonly tell: Tell;
}

/** What whoever watches a list is told. */
export interface Tell {
  /** Of each lead that comes into it. */
  readonly enters: boolean;
  /** When it has more leads than that; null for never. */
  readonly over: number | null;
}

/** What somebody changes of how they use a list; with nothing said they have looked at it. */
export interface Look {
  readonly pinned?: boolean | undefined;
  readonly first?: boolean | undefined;
  readonly tell?: Tell | undefined;
}

export interface Asks {
  readonly me: Pick<Person, "id" | "role">;
  readonly rights: ReadonlySet<Right>;
}

export interface SaveList extends Omit<SavedList, "id" | "ownerId"> {
  readonly id?: string | undefined;
  readonly pinned?: boolean | undefined;
}

type Done<T> = { readonly ok: true; readonly list: T } | { readonly ok: false; readonly problem: Problem };

/** So many lists one person may have made. */
const MOST = 200;
const MOST_COLUMNS = 20;
/** So many lists one person may watch. */
const MOST_WATCHED = 20;
/** So many leads a list may have of whose coming somebody is told: more are no news. */
export const MOST_MEMBERS = 5_000;

/** Lists of leads that were given a name. */
export class Lists {
  readonly #desk: Engine;
  /** What leads are listed by, in memory. */
  readonly columns: Columns;
  readonly listing: Listing;

  constructor(desk: Engine) {
    this.#desk = desk;
    this.columns = new Columns(desk.sql, desk.log);
    this.listing = new Listing(desk.sql, desk.looker.leads, this.columns);
  }

  /** The lists somebody sees: their own, and those shared with them; by name. */
  seenBy({ me }: Asks): ListOf[] {
    const { sql } = this.#desk;
    const rows = sql.all(
      sql.q
        .selectFrom("lists")
        .leftJoin("listLooks", (join) =>
          join.onRef("listLooks.listId", "=", "lists.id").on("listLooks.personId", "=", me.id),
        )
        .select(["listJson", "pinned", "seenAt", "first", "tellEnters", "tellOver"])
        .where((eb) => eb.or([eb("ownerId", "=", me.id), eb("shared", "in", ["desk", me.role])]))
        .orderBy("name"),
    );
    return rows.map(({ listJson, pinned, seenAt, first, tellEnters, tellOver }) => ({
      ...(JSON.parse(listJson) as SavedList),
      pinned: pinned === 1,
      seenAt: seenAt ?? 0,
      first: first === 1,
      tell: { enters: tellEnters === 1, over: tellOver },
    }));
  }

  /** Those of the lists somebody sees that a lead is in. */
  holding(asks: Asks, lead: Lead): ListOf[] {
    return this.seenBy(asks).filter((list) => {
      const listed = this.listed(asks, list);
      return !("code" in listed) && listed.where.holds(lead);
    });
  }

  /** A list by its id, where whoever asks sees it; null else. */
  get(asks: Asks, id: string): ListOf | null {
    return this.seenBy(asks).find((list) => list.id === id) ?? null;
  }

  /** Keep a list, new or changed; with `pinned` alone changing only that for whoever asks. */
  save(asks: Asks, { id, pinned, ...said }: SaveList): Done<ListOf> {
    const { sql, clock } = this.#desk;
    const known = id === undefined ? null : this.get(asks, id);
    if (id !== undefined && !known) return noSuchList();
    const wrong = this.#problem(said);
    if (wrong) return wrong;
    if (known && !mayChange(asks, known)) return notTheirs();
    if (said.shared !== "me" && !asks.rights.has("leads.all"))
      return refuse(
        "not-yours-to-share",
        403,
        "Not yours to share",
        "Lists are shared by those who see all leads.",
        "shared",
      );
    if (!known && this.seenBy(asks).filter((l) => l.ownerId === asks.me.id).length >= MOST)
      return refuse("too-many-lists", 409, "Too many lists", `${MOST} lists are the most. Remove one first.`);
    const list: SavedList = {
      ...said,
      name: said.name.trim(),
      id: known?.id ?? this.#desk.newId("list"),
      ownerId: known?.ownerId ?? asks.me.id,
    };
    sql.transaction(() => {
      const row = {
        ownerId: list.ownerId,
        shared: list.shared,
        name: list.name,
        listJson: JSON.stringify(list),
      };
      sql.run(
        sql.q
          .insertInto("lists")
          .values({ id: list.id, ...row, at: clock.now() })
          .onConflict((c) => c.column("id").doUpdateSet(row)),
      );
      if (pinned !== undefined) this.#look(asks.me.id, list.id, { pinned: pinned ? 1 : 0 });
      // What is in it by another filter has not come into it.
      if (JSON.stringify(known?.where) !== JSON.stringify(list.where))
        sql.run(sql.q.updateTable("listLooks").set({ looked: 0 }).where("listId", "=", list.id));
    });
    this.#desk.feed.publish({ n: 0, leadId: null, kinds: ["lists"] });
    return { ok: true, list: this.get(asks, list.id)! };
  }

  /** Take a list away, for all who see it. */
  remove(asks: Asks, id: string): Done<null> {
    const { sql } = this.#desk;
    const known = this.get(asks, id);
    if (!known) return noSuchList();
    if (!mayChange(asks, known)) return notTheirs();
    sql.transaction(() => {
      for (const table of ["listLooks", "listMembers", "listSends"] as const)
        sql.run(sql.q.deleteFrom(table).where("listId", "=", id));
      sql.run(sql.q.deleteFrom("lists").where("id", "=", id));
    });
    this.#desk.feed.publish({ n: 0, leadId: null, kinds: ["lists"] });
    return { ok: true, list: null };
  }

  /** Somebody has looked at a list, pins it for themselves, begins with it, or wants to be told of it. */
  look(asks: Asks, id: string, { pinned, first, tell }: Look): Done<ListOf> {
    const { sql, clock, feed } = this.#desk;
    const list = this.get(asks, id);
    if (!list) return noSuchList();
    const wrong = tell && this.#watchProblem(asks, list, tell);
    if (wrong) return wrong;
    sql.transaction(() => {
      if (first) sql.run(sql.q.updateTable("listLooks").set({ first: 0 }).where("personId", "=", asks.me.id));
      this.#look(asks.me.id, id, {
        ...(pinned === undefined && first === undefined && !tell && { seenAt: clock.now() }),
        ...(pinned !== undefined && { pinned: pinned ? 1 : 0 }),
        ...(first !== undefined && { first: first ? 1 : 0 }),
        ...(tell && { tellEnters: tell.enters ? 1 : 0, tellOver: tell.over, looked: 0 }),
      });
    });
    if (tell) feed.publish({ n: 0, leadId: null, kinds: ["lists"] });
    return { ok: true, list: this.get(asks, id)! };
  }

  /** The list somebody begins with; null for none. */
  firstOf(asks: Asks): ListOf | null {
    return this.seenBy(asks).find((list) => list.first) ?? null;
  }

  #watchProblem(asks: Asks, list: ListOf, tell: Tell): Done<never> | null {
    if (!tell.enters && tell.over === null) return null;
    const watched = this.seenBy(asks).filter(
      (l) => l.id !== list.id && (l.tell.enters || l.tell.over !== null),
    );
    if (watched.length >= MOST_WATCHED)
      return refuse(
        "too-many-watched",
        409,
        "Too many watched lists",
        `${MOST_WATCHED} lists are the most one person watches.`,
      );
    const listed = this.listed(asks, list);
    if ("code" in listed) return { ok: false, problem: listed };
    if (tell.enters && !this.listing.ids(listed, MOST_MEMBERS))
      return refuse(
        "too-many-leads",
        409,
        "Too many leads",
        `It has more than ${MOST_MEMBERS.toLocaleString("en")} leads: what comes into so many is no news. Narrow its filter.`,
        "tell.enters",
      );
    return null;
  }

  #look(personId: string, listId: string, more: Updateable<ListLookRow>): void {
    const { sql } = this.#desk;
    sql.run(
      sql.q
        .insertInto("listLooks")
        .values({ personId, listId, pinned: 0, seenAt: 0, ...more })
        .onConflict((c) => c.columns(["personId", "listId"]).doUpdateSet(more)),
    );
  }

  /** The leads a filter finds for somebody; or what is wrong with it. */
  listed(asks: Asks, { where, sort }: Pick<SavedList, "where" | "sort">): Listed | Problem {
    const { setup, clock } = this.#desk;
    const wrong = conditionProblem(where, fieldFinder(setup), "where");
    if (wrong)
      return refuse("condition-cant-be-used", 422, "The filter can’t be used", wrong.message, wrong.path)
        .problem;
    const order = orderOf(sort);
    if (!order)
      return refuse("no-such-order", 422, "No such order", "sort: leads can’t be sorted by that.", "sort")
        .problem;
    return {
      where: whereOf(where, setup, clock.now()),
      order,
      of: asks.rights.has("leads.all") ? null : asks.me.id,
    };
  }

  /** How many leads a list has for somebody, and how many of them came since they looked; null where it can’t be counted. */
  counts(asks: Asks, list: ListOf): { readonly count: number | null; readonly fresh: number | null } {
    const listed = this.listed(asks, list);
    // A field that has left the set-up: the list says so when it is opened.
    if ("code" in listed) return { count: null, fresh: null };
    const count = this.listing.count(listed);
    const fresh = list.seenAt === 0 ? count : this.listing.count({ ...listed, since: list.seenAt });
    return { count, fresh };
  }

  #problem({ name, where, columns, sort }: Omit<SaveList, "id" | "pinned">): Done<never> | null {
    const { setup } = this.#desk;
    if (!name.trim()) return refuse("it-needs-a-name", 422, "It needs a name", "Give it a name.", "name");
    const wrong = conditionProblem(where, fieldFinder(setup), "where");
    if (wrong)
      return refuse("condition-cant-be-used", 422, "The filter can’t be used", wrong.message, wrong.path);
    if (!orderOf(sort))
      return refuse("no-such-order", 422, "No such order", "Leads can’t be sorted by that.", "sort");
    const known = new Set(listColumns(setup).map((c) => c.key));
    const strange = columns.findIndex((c) => !known.has(c));
    if (strange >= 0 || columns.length === 0 || columns.length > MOST_COLUMNS)
      return refuse(
        "no-such-column",
        422,
        "No such column",
        strange >= 0
          ? `There is no column “${columns[strange]}”.`
          : `A list has between one and ${MOST_COLUMNS} columns.`,
        strange >= 0 ? `columns.${strange}` : "columns",
      );
    return null;
  }
}

/** Whoever made it, and whoever moves leads between people. */
export const mayChange = ({ me, rights }: Asks, list: SavedList): boolean =>
  list.ownerId === me.id || (list.shared !== "me" && rights.has("leads.move"));

const noSuchList = () => refuse("no-such-list", 404, "No such list", "There is no list with that id.");
export const NO_SUCH_LIST: Problem = noSuchList().problem;
const notTheirs = () =>
  refuse(
    "not-yours-to-do",
    403,
    "Not yours to do",
    "Only whoever made it, a coordinator or a manager changes it.",
  );
