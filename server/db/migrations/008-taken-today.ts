import { type Kysely, type Migration, sql } from "kysely";

export const takenToday: Migration = {
  async up(db: Kysely<unknown>) {
    // Who got how many today is counted at the start, without reading all that happened today.
    await sql`create index eventsOfTaking on events (at) where kind in ('taken', 'given')`.execute(db);
  },
};
