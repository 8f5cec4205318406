import { type Kysely, type Migration, sql } from "kysely";

/** What was tried in the lab. */
export const lab: Migration = {
  async up(db: Kysely<unknown>) {
    await sql`create table experiments (
      id text primary key, at integer not null, by text not null, name text not null, askedJson text not null, saidJson text not null,
      state text not null, resultJson text, error text)`.execute(db);
  },
};
