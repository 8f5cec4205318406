import { sql as raw } from "kysely";
import type { LeadEvent } from "../../core/lead/events.ts";
import type { Engine } from "../engine/engine.ts";

/** A page of everything that happened, in the order it was written. */
export interface EventPage {
  readonly items: readonly LeadEvent[];
  /** Where it goes on, also when nothing more has happened yet. */
  readonly next: string;
  /** Whether there is more already. */
  readonly more: boolean;
}

/** A place in the feed: the number of the last event that was read and its id, since the number of one taken out is given again. */
const PLACE = /^(\d{1,15})\.(ev_\w{8,40})$/;

/**
 * Everything that happened to leads, from a place on: what other systems follow at their own pace and go on reading where they
 * were. Tests are left out. Null when `after` is no place.
 */
export function eventFeed({ sql, looker }: Engine, after: string | null, limit: number): EventPage | null {
  const { q } = sql;
  const place = after === null ? null : PLACE.exec(after);
  if (after !== null && after !== "0" && !place) return null;
  const rows = sql.all(
    q
      .selectFrom("events")
      .selectAll()
      .where("n", ">", place ? placeOf(sql, Number(place[1]), place[2]!) : 0)
      .orderBy("n")
      .limit(limit + 1),
  );
  const read = rows.slice(0, limit);
  const last = read.at(-1);
  return {
    items: read.flatMap((r) =>
      looker.lead(r.leadId)?.test
        ? []
        : ({
            ...{ id: r.id, leadId: r.leadId, seq: r.seq, actId: r.actId, at: r.at, kind: r.kind },
            actor: JSON.parse(r.actorJson),
            data: JSON.parse(r.dataJson),
          } as LeadEvent),
    ),
    next: last ? `${last.n}.${last.id}` : (after ?? "0"),
    more: rows.length > limit,
  };
}

/** The number after which it goes on. Where the event of that number was taken out, those written since have its number again. */
function placeOf(sql: Engine["sql"], n: number, id: string): number {
  const { q } = sql;
  const there = sql.get(q.selectFrom("events").select("id").where("n", "=", n));
  if (there?.id === id) return n;
  // Ids sort by birth; only the end of the log can have been taken out.
  const before = q.selectFrom("events").select("n").where("n", "<=", n).where("id", "<=", id);
  return sql.get(before.orderBy("n", "desc").limit(raw.lit(1)))?.n ?? 0;
}
