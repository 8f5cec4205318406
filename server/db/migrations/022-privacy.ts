import { type Kysely, type Migration, sql } from "kysely";

/** Who is to be erased, who was, and by what a list is kept from bringing them back. */
export const privacy: Migration = {
  async up(db: Kysely<unknown>) {
    await sql`create table erasures (
      id text primary key, leadId text not null, askedAt integer not null, by text, ruleId text, because text not null,
      dueAt integer not null, state text not null, actId text, doneAt integer, saidJson text)`.execute(db);
    await sql`create index erasuresByState on erasures (state, dueAt)`.execute(db);
    await sql`create index erasuresOf on erasures (leadId)`.execute(db);
    await sql`create table erasedPrints (
      print text primary key, at integer not null, silent integer not null) without rowid`.execute(db);
  },
};
