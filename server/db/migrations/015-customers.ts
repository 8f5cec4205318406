import { type Kysely, type Migration, sql } from "kysely";

/** The book of customers, what other systems are told, and who was asked what. */
async function up(db: Kysely<unknown>): Promise<void> {
  await sql`create table records (
    id text primary key, kind text not null, seq integer not null, recordJson text not null,
    name text not null, stage text, ownerId text, state text not null, value integer,
    createdAt integer not null, lastActivityAt integer not null) without rowid`.execute(db);
  await sql`create index recordsByName on records (kind, state, name collate nocase, id)`.execute(db);
  await sql`create index dealsByStage on records (stage, id) where kind = 'deal' and state = 'open'`.execute(
    db,
  );
  await sql`create table bookEvents (
    n integer primary key, id text not null unique, recordId text not null, record text not null,
    seq integer not null, actId text not null, at integer not null, actorJson text not null,
    kind text not null, dataJson text not null)`.execute(db);
  await sql`create unique index bookEventsOfRecord on bookEvents (recordId, seq)`.execute(db);
  await sql`create index bookEventsOfAct on bookEvents (actId)`.execute(db);
  // By what a record is found: what it may be matched by, and whose deals there are.
  await sql`create table recordKeys (key text not null, recordId text not null, primary key (key, recordId)) without rowid`.execute(
    db,
  );
  await sql`create index recordKeysByRecord on recordKeys (recordId)`.execute(db);
  await sql`create table asked (
    leadId text not null, noteId text not null, personId text not null, at integer not null,
    primary key (personId, noteId)) without rowid`.execute(db);
  await sql`create index askedByLead on asked (leadId)`.execute(db);
  await sql`create table estimates (id text primary key, leadId text not null) without rowid`.execute(db);
  await sql`create index estimatesByLead on estimates (leadId)`.execute(db);
  await sql`create table hookDeliveries (
    id text primary key, hookId text not null, event text not null, at integer not null,
    leadId text, dealId text, bodyJson text not null, state text not null, attempts integer not null,
    nextAt integer not null, status integer, said text, answeredAt integer)`.execute(db);
  await sql`create index hookDeliveriesDue on hookDeliveries (nextAt) where state = 'queued'`.execute(db);
  await sql`create index hookDeliveriesByHook on hookDeliveries (hookId, at)`.execute(db);
  // Few leads stand in stages of the company's own: only those are counted by this.
  await sql`create index leadsOfStages on leads (json_extract(leadJson, '$.stage'))
    where json_extract(leadJson, '$.stage') not in ('New','Being tried','Talking','Handed over')`.execute(db);
}

export const customers: Migration = { up };
