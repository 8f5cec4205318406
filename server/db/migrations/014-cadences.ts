import { type Kysely, type Migration, sql } from "kysely";
import type { LeadEvent } from "../../../core/lead/events.ts";
import { foldAll } from "../../../core/lead/fold.ts";
import type { Lead } from "../../../core/lead/lead.ts";
import { packLead } from "../../../core/lead/pack.ts";
import { timersOf } from "../../../core/lead/timers.ts";

/** Kinds of event that tell of cadences, as a literal: only so is their index used. */
const KINDS = sql.raw(
  "('cadence-started','cadence-touched','cadence-paused','cadence-resumed','cadence-stopped','cadence-done')",
);

interface OldEvent {
  readonly id: string;
  readonly seq: number;
  readonly actId: string;
  readonly at: number;
  readonly actorJson: string;
  readonly kind: string;
  readonly dataJson: string;
}

/** A lead as its events make it now: slow plans are the first versions of the cadences they have become. */
function refolded(leadId: string, rows: readonly OldEvent[]): Lead | null {
  return foldAll(
    rows.map(
      ({ actorJson, dataJson, ...row }) =>
        ({ ...row, leadId, actor: JSON.parse(actorJson), data: JSON.parse(dataJson) }) as LeadEvent,
    ),
  );
}

async function up(db: Kysely<unknown>): Promise<void> {
  await sql`create table cadenceLeads (
    cadenceId text not null, leadId text not null, runId text not null, version integer not null,
    n integer not null, state text not null, at integer, primary key (cadenceId, leadId)) without rowid`.execute(
    db,
  );
  await sql`create index cadenceLeadsByLead on cadenceLeads (leadId)`.execute(db);
  await sql`create index cadenceEvents on events (json_extract(dataJson, '$.cadenceId'), n) where kind in ${KINDS}`.execute(
    db,
  );
  await sql`create table tasks (
    leadId text not null, taskId text not null, personId text not null, dueAt integer not null,
    primary key (leadId, taskId, personId)) without rowid`.execute(db);
  await sql`create index tasksByPerson on tasks (personId, dueAt)`.execute(db);
  // What people did today is counted for each of them.
  await sql`create index eventsOfWork on events (at) where kind in ('tried','task-done','closed','parked')`.execute(
    db,
  );
  await sql`update leads set leadJson = json_remove(leadJson, '$.parked.planId', '$.parked.sent', '$.parked.nextAt')
    where json_extract(leadJson, '$.parked') is not null and json_extract(leadJson, '$.parked.planId') is null`.execute(
    db,
  );
  const { rows } = await sql<{ id: string }>`
    select distinct leadId as id from events
    where kind = 'parked' and json_extract(dataJson, '$.planId') is not null`.execute(db);
  for (const { id } of rows) {
    const { rows: events } = await sql<OldEvent>`
      select id, seq, actId, at, actorJson, kind, dataJson from events where leadId = ${id} order by seq`.execute(
      db,
    );
    const lead = refolded(id, events);
    if (!lead) continue;
    await sql`update leads set leadJson = ${packLead(lead)} where id = ${id}`.execute(db);
    for (const { dueAt, id: timer } of timersOf(lead).filter((t) => t.kind === "touch"))
      await sql`insert or ignore into timers (id, leadId, kind, dueAt, attempts)
        values (${timer}, ${id}, 'touch', ${dueAt}, 0)`.execute(db);
    for (const { id: run, cadenceId, version, n, state, at, ended } of lead.cadences)
      if (!ended)
        await sql`insert or ignore into cadenceLeads (cadenceId, leadId, runId, version, n, state, at)
          values (${cadenceId}, ${id}, ${run}, ${version}, ${n}, ${state}, ${at})`.execute(db);
  }
  await sql`delete from timers where kind = 'slow'`.execute(db);
}

/** Slow plans become cadences; who is in which cadence is asked often. */
export const cadences: Migration = { up };
