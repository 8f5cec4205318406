import { sql as raw } from "kysely";
import { Sql } from "../db/sql.ts";
import { type Committer, committer } from "../engine/commit.ts";
import { Looker } from "../engine/looker.ts";
import { idMaker } from "../ids.ts";
import type { UndoJob, Undone } from "./jobs.ts";
import { slicesOf } from "./slices.ts";

/** Leads taken out with one transaction: whoever else wants to write waits for it. */
const AT_ONCE = 250;

/** In a thread and on a connection of its own, so that the desk goes on. */
export async function undoBeside(job: UndoJob): Promise<Undone> {
  // What refers to a lead is taken out with it; looking for more of that would read whole tables for each lead.
  const sql = await Sql.open(job.database, { durable: "in time", cacheMb: 40, references: false });
  try {
    const clock = { now: () => Date.now() };
    const looker = new Looker(sql, clock, idMaker(clock), job.setup);
    return await undoRows(sql, looker, committer(sql, looker), job.importId);
  } finally {
    sql.close();
  }
}

/** Take the leads of a list out, unless any of them has been touched: then none is. */
export async function undoRows(
  sql: Sql,
  looker: Looker,
  { wipe }: Committer,
  importId: string,
  breathe: () => Promise<void> = async () => {},
): Promise<Undone> {
  const touchedOf = toucher(sql, importId);
  let touched = 0;
  for (const ids of madeBy(sql, importId)) {
    touched += touchedOf(ids).size;
    await breathe();
  }
  if (touched > 0) return { removed: 0, touched };
  let removed = 0;
  for (const ids of madeBy(sql, importId)) {
    sql.transaction(() => {
      // Somebody may have begun to work on one of them meanwhile: it stays.
      const stay = touchedOf(ids);
      for (const id of ids) {
        const lead = stay.has(id) ? null : looker.lead(id);
        if (!lead) continue;
        wipe(lead);
        removed++;
      }
    });
    await breathe();
  }
  sql.run(sql.q.deleteFrom("importSlices").where("importId", "=", importId));
  return { removed, touched: 0 };
}

/** The leads that a list made, some at a time. */
function* madeBy(sql: Sql, importId: string): Generator<string[]> {
  for (const { rows } of slicesOf(sql, importId)) {
    const ids = rows.filter(([, , made]) => made).map(([, leadId]) => leadId);
    for (let at = 0; at < ids.length; at += AT_ONCE) yield ids.slice(at, at + AT_ONCE);
  }
}

/** Which of some leads a person, or the lead, has done something with since the list was loaded. */
function toucher(sql: Sql, importId: string): (leadIds: readonly string[]) => ReadonlySet<string> {
  return (leadIds) => {
    const query = sql.q
      .selectFrom("events")
      .select("leadId")
      .distinct()
      .where(raw<boolean>`leadId in (select value from json_each(${JSON.stringify(leadIds)}))`)
      .where((eb) =>
        eb.or([
          // As `isAutomatic` has it: the desk did nothing by anybody's hand.
          eb.and([
            eb(raw<string>`json_extract(actorJson, '$.kind')`, "!=", "desk"),
            eb("kind", "!=", "inquiry"),
          ]),
          // A further inquiry that did not come with this list.
          eb.and([
            eb("kind", "=", "inquiry"),
            eb(raw<string>`json_extract(dataJson, '$.inquiryId')`, "not like", `${importId}.%`),
          ]),
        ]),
      );
    return new Set(sql.all(query).map((e) => e.leadId));
  };
}
