import { type Kysely, type Migration, sql } from "kysely";

/** What happened on a day is found by when it was. */
export const today: Migration = {
  async up(db: Kysely<unknown>) {
    await sql`create index eventsByTime on events (at)`.execute(db);
  },
};
