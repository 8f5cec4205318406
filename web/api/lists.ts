import type { z } from "zod";
import { inWords } from "../../core/condition/condition.ts";
import type { Condition } from "../../core/condition/tree.ts";
import { namesIn } from "../../core/lead/fields.ts";
import { nameOf } from "../../core/policy/setup.ts";
import { type Problem, refuse } from "../../core/refusal.ts";
import { wallTime } from "../../core/time/weekly.ts";
import { listColumns, USUAL_COLUMNS } from "../../core/words/columns.ts";
import type { Desk } from "../../server/desk.ts";
import { type ListOf, mayChange, NO_SUCH_LIST } from "../../server/lists/lists.ts";
import type { ListSend } from "../../server/lists/sends.ts";
import { asksAs } from "../../server/lists/watch.ts";
import type { Listed } from "../../server/read/listing.ts";
import { When } from "../wire/answering-schemas.ts";
import type * as wire from "../wire/list-schemas.ts";
import type { Caller } from "./identify.ts";

type Asks = Pick<Caller, "me" | "rights">;

/** So long may a condition in an address be (characters): the head of a request has 16 kB in all. */
const LONGEST = 12_000;

export interface AskedList {
  readonly listed: Listed;
  readonly columns: readonly string[];
}

/** Which leads a query asks for, by a saved list, by a condition, or by neither; or what is wrong with it. */
export function askedList(desk: Desk, asks: Asks, query: URLSearchParams): AskedList | Problem {
  const id = query.get("list");
  const list = id ? desk.lists.get(asks, id) : null;
  if (id && !list)
    return refuse("no-such-list", 404, "No such list", "There is no list with that id.", "list").problem;
  const where = query.has("where") ? readWhere(query.get("where")!) : (list?.where ?? null);
  if (where && "problem" in where) return where.problem;
  const sort = query.get("sort") || list?.sort || "recent";
  const listed = desk.lists.listed(asks, { where, sort });
  if ("code" in listed) return listed;
  const known = new Set(listColumns(desk.setup).map((c) => c.key));
  const asked = query.get("columns")?.split(",").filter(Boolean) ?? list?.columns ?? USUAL_COLUMNS;
  return { listed, columns: asked.filter((key) => known.has(key)).slice(0, 40) };
}

function readWhere(text: string): Condition | null | { readonly problem: Problem } {
  const wrong = (detail: string) =>
    refuse("condition-cant-be-used", 422, "The filter can’t be used", detail, "where");
  if (!text.trim() || text === "null") return null;
  if (text.length > LONGEST) return wrong(`${LONGEST} characters are the most.`);
  try {
    const read = When.safeParse(JSON.parse(text));
    return read.success ? read.data : wrong("It is no condition: see the API’s document.");
  } catch {
    return wrong("It is not JSON.");
  }
}

export function toSavedList(desk: Desk, asks: Asks, list: ListOf): wire.SavedList {
  const { count, fresh } = desk.lists.counts(asks, list);
  return {
    id: list.id,
    name: list.name,
    where: list.where,
    said: inWords(list.where, namesIn(desk.setup)),
    columns: [...list.columns],
    sort: list.sort,
    shared: list.shared,
    by: nameOf(desk.setup, list.ownerId),
    mine: mayChange(asks, list),
    pinned: list.pinned,
    first: list.first,
    tell: list.tell,
    seenAt: list.seenAt > 0 ? new Date(list.seenAt).toISOString() : null,
    count,
    fresh,
  };
}

/** Minutes since midnight of `08:30`. */
export const minuteOf = (wall: string): number => Number(wall.slice(0, 2)) * 60 + Number(wall.slice(3));

export function toListSend({ setup }: Desk, send: ListSend): z.infer<typeof wire.ListSend> {
  const { toKind, toId, lastAt } = send;
  const name =
    toKind === "person"
      ? nameOf(setup, toId)
      : (setup.policies.hooks.find((h) => h.id === toId)?.name ?? "a system no longer here");
  return {
    id: send.id,
    to: { kind: toKind, id: toId, name },
    format: send.format,
    weekday: send.weekday,
    time: wallTime(send.minute),
    by: nameOf(setup, send.byId),
    nextAt: new Date(send.nextAt).toISOString(),
    lastAt: lastAt === null ? null : new Date(lastAt).toISOString(),
    said: send.said,
  };
}

/** A list's sendings, and to whom it may be sent by whoever asks. */
export function toListSends(desk: Desk, { me, rights }: Asks, list: ListOf): wire.ListSends {
  const { people, policies } = desk.setup;
  return {
    items: desk.listSends.of(list.id).map((send) => toListSend(desk, send)),
    next: null,
    people: people
      .filter((p) => !p.left && p.email && (p.id === me.id || rights.has("leads.move")))
      .filter((p) => desk.lists.get(asksAs(p), list.id))
      .map(({ id, name }) => ({ id, name })),
    hooks: rights.has("access") ? policies.hooks.map(({ id, name }) => ({ id, name })) : [],
  };
}

/** A sending of a path, of whoever may change it: who set it up, who gets it, or who may change the list; or why not. */
export function sendOf(
  desk: Desk,
  asks: Asks,
  { id = "", send = "" }: Readonly<Record<string, string | undefined>>,
): ListSend | Problem {
  const list = desk.lists.get(asks, id);
  if (!list) return NO_SUCH_LIST;
  const found = desk.listSends.of(id).find((s) => s.id === send);
  if (!found)
    return refuse("no-such-send", 404, "No such sending", "The list is not sent by that id.").problem;
  const { me } = asks;
  const theirs = found.byId === me.id || (found.toKind === "person" && found.toId === me.id);
  return theirs || (mayChange(asks, list) && (found.toKind === "person" || asks.rights.has("access")))
    ? found
    : refuse("not-yours-to-do", 403, "Not yours to do", "Only who set it up or gets it changes that.")
        .problem;
}
