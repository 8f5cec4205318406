import { type Kysely, type Migration, sql } from "kysely";

export const tests: Migration = {
  async up(db: Kysely<unknown>) {
    // Tests are few and soon gone; what counts leads leaves them out.
    await sql`create index inquiriesOfTests on inquiries (leadId) where test = 1`.execute(db);
    // Being off duty by hand may end on its own.
    await db.schema.alterTable("duty").addColumn("until", "integer").execute();
  },
};
