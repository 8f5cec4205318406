import { type Kysely, type Migration, sql } from "kysely";

/** Lists tell who watches them, open as one's first page, and are sent at their times. */
export const listWatches: Migration = {
  async up(db: Kysely<unknown>) {
    for (const column of [
      "first integer not null default 0",
      "tellEnters integer not null default 0",
      "tellOver integer",
      "isOver integer not null default 0",
      "looked integer not null default 0",
    ])
      await sql.raw(`alter table listLooks add column ${column}`).execute(db);
    await sql`create table listMembers (
      personId text not null, listId text not null, leadId text not null,
      primary key (personId, listId, leadId)) without rowid`.execute(db);
    await sql`create table listSends (
      id text primary key, listId text not null, byId text not null, toKind text not null, toId text not null,
      format text not null, weekday integer, minute integer not null, nextAt integer not null,
      lastAt integer, said text) without rowid`.execute(db);
    // Whoever keeps leads in memory learns which are gone, and up to which number events were left then.
    await sql`create table leadsGone (
      n integer primary key autoincrement, leadId text not null, upTo integer not null)`.execute(db);
    await sql`create trigger leadGone after delete on leads begin
      insert into leadsGone (leadId, upTo) values (old.id, (select coalesce(max(n), 0) from events)); end`.execute(
      db,
    );
  },
};
