import { type Kysely, type Migration, sql } from "kysely";

export const bells: Migration = {
  async up(db: Kysely<unknown>) {
    // What rang is told of each morning; what woke is counted per rule. Both are few among all events.
    await sql`create index eventsOfRinging on events (at) where kind = 'rang'`.execute(db);
    await sql`create index eventsOfWaking on events (at) where kind = 'woken'`.execute(db);
  },
};
