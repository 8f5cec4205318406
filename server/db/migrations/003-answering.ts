import { type Kysely, type Migration, sql } from "kysely";

export const answering: Migration = {
  async up(db: Kysely<unknown>) {
    await sql`alter table outbox add column attachmentsJson text`.execute(db);
    // Whom we last wrote to at a number or address: their answer finds its conversation, shared number or not.
    await sql`create index outboxToLeads on outbox (toAddress, n) where purpose in ('reply', 'first-reply')`.execute(
      db,
    );
    // Each channel is looked through on its own: what waits for a dead mail server holds up no text.
    await sql`drop index outboxDue`.execute(db);
    await sql`create index outboxDueByChannel on outbox (channel, nextAt) where state = 'queued'`.execute(db);
    // Numbers and addresses nothing automatic goes to, whoever has them.
    await db.schema
      .createTable("suppressed")
      .addColumn("value", "text", (c) => c.primaryKey())
      .addColumn("at", "integer", (c) => c.notNull())
      .addColumn("by", "text")
      .addColumn("reason", "text", (c) => c.notNull())
      .modifyEnd(sql`without rowid`)
      .execute();
    // What somebody has begun to write: one a lead and person.
    await db.schema
      .createTable("drafts")
      .addColumn("personId", "text", (c) => c.notNull())
      .addColumn("leadId", "text", (c) => c.notNull())
      .addColumn("at", "integer", (c) => c.notNull())
      .addColumn("draftJson", "text", (c) => c.notNull())
      .addPrimaryKeyConstraint("draftsByPerson", ["personId", "leadId"])
      .modifyEnd(sql`without rowid`)
      .execute();
    // Addresses of pages as they left in a message, by a short number.
    await db.schema
      .createTable("shortLinks")
      .addColumn("n", "integer", (c) => c.primaryKey())
      .addColumn("messageId", "text", (c) => c.notNull())
      .addColumn("leadId", "text", (c) => c.notNull().references("leads.id"))
      .addColumn("url", "text", (c) => c.notNull())
      .addColumn("clicks", "integer", (c) => c.notNull().defaultTo(0))
      .addUniqueConstraint("shortLinksOnce", ["messageId", "url"])
      .execute();
    // How templates do is counted over messages alone.
    await sql`create index eventsOfMessages on events (at) where kind in ('message-out', 'message-in')`.execute(
      db,
    );
    // What is booked with whom: looked up for free times. The lead itself says the same.
    await db.schema
      .createTable("bookings")
      .addColumn("leadId", "text", (c) => c.primaryKey().references("leads.id"))
      .addColumn("personId", "text", (c) => c.notNull())
      .addColumn("startAt", "integer", (c) => c.notNull())
      .addColumn("endAt", "integer", (c) => c.notNull())
      .addUniqueConstraint("bookingsOnce", ["personId", "startAt"])
      .modifyEnd(sql`without rowid`)
      .execute();
    // Calls made from the desk, while they last and after.
    await db.schema
      .createTable("calls")
      .addColumn("id", "text", (c) => c.primaryKey())
      .addColumn("leadId", "text", (c) => c.notNull().references("leads.id"))
      .addColumn("personId", "text", (c) => c.notNull())
      .addColumn("at", "integer", (c) => c.notNull())
      .addColumn("state", "text", (c) => c.notNull())
      .addColumn("stateAt", "integer", (c) => c.notNull())
      .addColumn("talkedFrom", "integer")
      .addColumn("toAddress", "text", (c) => c.notNull())
      .addColumn("fromAddress", "text", (c) => c.notNull())
      .addColumn("notes", "text", (c) => c.notNull())
      .addColumn("endedJson", "text")
      .execute();
    await sql`create index callsOpen on calls (personId) where state <> 'done'`.execute(db);
  },
};
