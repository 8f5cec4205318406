import { type Kysely, type Migration, sql } from "kysely";

/** Secret addresses from which other programs fetch: a person's calendar, a list as a file. */
export const openLinks: Migration = {
  async up(db: Kysely<unknown>) {
    await sql`create table openLinks (
      id text primary key, hash text not null unique, kind text not null, personId text not null,
      listId text, format text, at integer not null, lastUsedAt integer, revokedAt integer)`.execute(db);
    await sql`create index openLinksOf on openLinks (personId) where revokedAt is null`.execute(db);
  },
};
