import { type Kysely, type Migration, sql } from "kysely";

/** What a desk of years is asked often and had to look through everything for: a message by its id, what has come since a moment. */
export const manyYears: Migration = {
  async up(db: Kysely<unknown>) {
    await sql`create index outboxById on outbox (id)`.execute(db);
    await sql`create index inquiriesByTime on inquiries (receivedAt)`.execute(db);
    await sql`create index hookDeliveriesByTime on hookDeliveries (at, id)`.execute(db);
    await sql`create index callsByLead on calls (leadId)`.execute(db);
    await sql`create index shortLinksByLead on shortLinks (leadId)`.execute(db);
  },
};
