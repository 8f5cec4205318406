import { type Kysely, type Migration, sql } from "kysely";
import { columnsOf, type LeadColumns } from "../../../core/lead/columns.ts";
import { unpackLead } from "../../../core/lead/pack.ts";

/** The columns as this migration makes them: what leads are listed by later is later migrations' matter. */
const COLUMNS = {
  sourceId: "text not null default ''",
  product: "text",
  territory: "text",
  language: "text",
  postalCode: "text",
  company: "text",
  preferred: "text",
  campaign: "text",
  stage: "text not null default ''",
  creditId: "text",
  value: "real",
  inquiries: "integer not null default 0",
  tries: "integer not null default 0",
  reached: "integer not null default 0",
  lastTryAt: "integer",
  dueAt: "integer",
  called: "text not null default ''",
  tags: "text",
  people: "text",
} as const satisfies Partial<Record<keyof LeadColumns, string>>;
const NAMES = Object.keys(COLUMNS) as (keyof typeof COLUMNS)[];

async function up(db: Kysely<unknown>): Promise<void> {
  for (const column of NAMES)
    await sql.raw(`alter table leads add column ${column} ${COLUMNS[column]}`).execute(db);
  for (let after = ""; ; ) {
    const { rows } = await sql<{ id: string; leadJson: string }>`
      select id, leadJson from leads where id > ${after} order by id limit 500`.execute(db);
    for (const { id, leadJson } of rows) {
      const columns = columnsOf(unpackLead(leadJson));
      const values = sql.join(NAMES.map((column) => sql`${sql.ref(column)} = ${columns[column]}`));
      await sql`update leads set ${values} where id = ${id}`.execute(db);
      after = id;
    }
    if (rows.length === 0) break;
  }
  // One index holds all that leads are listed by, in the order of their last activity: a list is read from it alone.
  await sql`drop index leadsByActivity`.execute(db);
  await sql`create index leadsListed on leads (lastActivityAt, id, place, ownerId, holderId, createdAt, ${sql.raw(
    NAMES.join(", "),
  )})`.execute(db);
  await sql`create table lists (
    id text primary key, ownerId text not null, shared text not null, name text not null,
    listJson text not null, at integer not null) without rowid`.execute(db);
  await sql`create table listLooks (
    personId text not null, listId text not null, pinned integer not null, seenAt integer not null,
    primary key (personId, listId)) without rowid`.execute(db);
}

export const lists: Migration = { up };
