import { isDeepStrictEqual } from "node:util";
import { foldRecords } from "../core/book/events.ts";
import { allRecordKeys } from "../core/book/memory.ts";
import { fold } from "../core/lead/fold.ts";
import type { Lead } from "../core/lead/lead.ts";
import { unpackLead } from "../core/lead/pack.ts";
import { timersOf } from "../core/lead/timers.ts";
import { BookStore, recordRow } from "./book/store.ts";
import type { Sql } from "./db/sql.ts";
import { leadRow } from "./engine/rows.ts";
import { accountFaults } from "./figures/verify-accounts.ts";
import { Reader } from "./read/reader.ts";

/** Refold every record of the book, and compare its row and what it is found by. Gives how many events there are. */
function verifyBook(sql: Sql, faults: string[]): number {
  const { q } = sql;
  const book = new BookStore(sql);
  let events = 0;
  for (const row of sql.all(q.selectFrom("records").selectAll())) {
    const own = book.events(row.id);
    events += own.length;
    const rec = foldRecords(own);
    const right = rec && recordRow(JSON.parse(JSON.stringify(rec)) as typeof rec);
    if (
      !right ||
      !isDeepStrictEqual(
        { ...row, recordJson: JSON.parse(row.recordJson) },
        { ...right, recordJson: JSON.parse(right.recordJson) },
      )
    )
      faults.push(`${row.id}: its row is not what its events make.`);
    const keys = sql
      .all(q.selectFrom("recordKeys").select("key").where("recordId", "=", row.id))
      .map((k) => k.key);
    if (rec && !isDeepStrictEqual(keys.sort(), [...allRecordKeys(rec)].sort()))
      faults.push(`${row.id}: what it is found by is not what its events make.`);
  }
  return events;
}

/**
 * Refold every lead and compare row, timers and contacts with what the events say. Changes nothing. With `sample` so many leads at
 * most are, spread over all, and what is there without a lead is not looked for.
 */
export function verify(
  sql: Sql,
  sample = Number.POSITIVE_INFINITY,
): { leads: number; events: number; faults: string[] } {
  const { q } = sql;
  const reader = new Reader(sql);
  const faults: string[] = [];
  sql.checkIntegrity();
  let events = 0;
  const all = sql.all(q.selectFrom("leads").select("id").orderBy("id"));
  const step = Math.max(1, all.length / sample);
  const ids = all.filter((_, i) => Math.floor(i / step) !== Math.floor((i - 1) / step));
  const isWhole = ids.length === all.length;
  const wanted = new Set<string>();
  const bookings = new Map(sql.all(q.selectFrom("bookings").selectAll()).map((b) => [b.leadId, b]));
  for (const { id } of ids) {
    let lead: Lead | null = null;
    const own = reader.events(id);
    for (const event of own) lead = fold(lead, event);
    events += own.length;
    faults.push(...accountFaults(sql, id, own));
    const row = sql.get(q.selectFrom("leads").selectAll().where("id", "=", id));
    if (!lead) faults.push(`${id} has no events.`);
    else {
      // Compared as the database keeps it: JSON drops what is undefined.
      const right = JSON.parse(JSON.stringify(lead)) as Lead;
      const { leadJson, ...columns } = leadRow(right);
      if (!row || !isDeepStrictEqual(unpackLead(row.leadJson), unpackLead(leadJson)))
        faults.push(`${id}: leadJson is not what its events make.`);
      for (const [column, value] of Object.entries(columns))
        if (JSON.stringify(row?.[column as keyof typeof row]) !== JSON.stringify(value))
          faults.push(`${id}: ${column} is not what its events make.`);
      for (const timer of timersOf(lead)) wanted.add(timer.id);
      const { booked } = lead;
      const kept = bookings.get(id);
      bookings.delete(id);
      if (booked?.at !== kept?.startAt || booked?.personId !== kept?.personId)
        faults.push(`${id}: its booked call is not what its events make.`);
    }
  }
  if (isWhole) events += verifyBook(sql, faults);
  for (const { id } of sql.all(q.selectFrom("timers").select("id")))
    if (!wanted.delete(id) && isWhole) faults.push(`Timer ${id} has no reason.`);
  for (const id of isWhole ? bookings.keys() : [])
    faults.push(`A call is booked for ${id}, which is no lead.`);
  for (const id of wanted) faults.push(`Timer ${id} is missing.`);
  return { leads: ids.length, events, faults };
}
