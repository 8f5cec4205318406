import { type Kysely, type Migration, sql } from "kysely";

export const beginning: Migration = {
  async up(db: Kysely<unknown>) {
    await db.schema
      .createTable("leads")
      .addColumn("id", "text", (c) => c.primaryKey())
      .addColumn("seq", "integer", (c) => c.notNull())
      .addColumn("leadJson", "text", (c) => c.notNull())
      .addColumn("place", "text", (c) => c.notNull())
      .addColumn("placeAt", "integer", (c) => c.notNull())
      .addColumn("ownerId", "text")
      .addColumn("holderId", "text")
      .addColumn("createdAt", "integer", (c) => c.notNull())
      .addColumn("lastActivityAt", "integer", (c) => c.notNull())
      .addColumn("search", "text", (c) => c.notNull())
      .modifyEnd(sql`without rowid`)
      .execute();
    await db.schema.createIndex("leadsByPlace").on("leads").columns(["place", "placeAt", "id"]).execute();
    await db.schema.createIndex("leadsByActivity").on("leads").columns(["lastActivityAt", "id"]).execute();
    await sql`create index leadsByHolder on leads (holderId) where holderId is not null`.execute(db);
    await db.schema
      .createTable("contacts")
      .addColumn("value", "text", (c) => c.primaryKey())
      .addColumn("kind", "text", (c) => c.notNull())
      .addColumn("leadId", "text", (c) => c.notNull().references("leads.id"))
      .modifyEnd(sql`without rowid`)
      .execute();
    await db.schema
      .createTable("events")
      .addColumn("n", "integer", (c) => c.primaryKey())
      .addColumn("id", "text", (c) => c.notNull())
      .addColumn("leadId", "text", (c) => c.notNull().references("leads.id"))
      .addColumn("seq", "integer", (c) => c.notNull())
      .addColumn("actId", "text", (c) => c.notNull())
      .addColumn("at", "integer", (c) => c.notNull())
      .addColumn("actorJson", "text", (c) => c.notNull())
      .addColumn("kind", "text", (c) => c.notNull())
      .addColumn("dataJson", "text", (c) => c.notNull())
      .addColumn("whyJson", "text")
      .addUniqueConstraint("eventsInOrder", ["leadId", "seq"])
      .execute();
    await db.schema
      .createTable("timers")
      .addColumn("dueAt", "integer", (c) => c.notNull())
      .addColumn("id", "text", (c) => c.notNull())
      .addColumn("leadId", "text", (c) => c.notNull().references("leads.id"))
      .addColumn("kind", "text", (c) => c.notNull())
      .addColumn("attempts", "integer", (c) => c.notNull().defaultTo(0))
      // Kept in the order they fall due, and in no other.
      .addPrimaryKeyConstraint("timersByDue", ["dueAt", "id"])
      .modifyEnd(sql`without rowid`)
      .execute();
    await db.schema
      .createTable("outbox")
      // Messages are found by lead, by key, or by being due: an index of their ids would only cost.
      .addColumn("n", "integer", (c) => c.primaryKey())
      .addColumn("id", "text", (c) => c.notNull())
      .addColumn("key", "text", (c) => c.notNull().unique())
      .addColumn("channel", "text", (c) => c.notNull())
      .addColumn("toAddress", "text", (c) => c.notNull())
      .addColumn("fromAddress", "text", (c) => c.notNull())
      .addColumn("subject", "text")
      .addColumn("body", "text", (c) => c.notNull())
      .addColumn("linkJson", "text")
      // Empty for alerts that are about no lead: a source gone quiet.
      .addColumn("leadId", "text", (c) => c.references("leads.id"))
      .addColumn("personId", "text")
      .addColumn("purpose", "text", (c) => c.notNull())
      .addColumn("state", "text", (c) => c.notNull())
      .addColumn("attempts", "integer", (c) => c.notNull())
      .addColumn("nextAt", "integer", (c) => c.notNull())
      .addColumn("createdAt", "integer", (c) => c.notNull())
      .addColumn("sentAt", "integer")
      .addColumn("error", "text")
      .execute();
    await sql`create index outboxDue on outbox (nextAt) where state = 'queued'`.execute(db);
    await sql`create index outboxDead on outbox (createdAt) where state = 'dead'`.execute(db);
    await db.schema.createIndex("outboxByLead").on("outbox").columns(["leadId"]).execute();
    await db.schema
      .createTable("inquiries")
      .addColumn("id", "text", (c) => c.primaryKey())
      .addColumn("sourceId", "text", (c) => c.notNull())
      .addColumn("receivedAt", "integer", (c) => c.notNull())
      .addColumn("dedupe", "text")
      .addColumn("contentType", "text", (c) => c.notNull())
      .addColumn("headersJson", "text", (c) => c.notNull())
      .addColumn("raw", "blob", (c) => c.notNull())
      .addColumn("state", "text", (c) => c.notNull())
      .addColumn("reason", "text")
      .addColumn("leadId", "text", (c) => c.references("leads.id"))
      .addColumn("matched", "text", (c) => c.notNull())
      .execute();
    await sql`create unique index inquiriesByDedupe on inquiries (dedupe) where dedupe is not null`.execute(
      db,
    );
    await sql`create index inquiriesQuarantined on inquiries (receivedAt) where state = 'quarantined'`.execute(
      db,
    );
    await db.schema
      .createTable("rotations")
      .addColumn("groupId", "text", (c) => c.primaryKey())
      .addColumn("stateJson", "text", (c) => c.notNull())
      .execute();
    await db.schema
      .createTable("setup")
      .addColumn("version", "integer", (c) => c.primaryKey().autoIncrement())
      .addColumn("at", "integer", (c) => c.notNull())
      .addColumn("by", "text")
      .addColumn("setupJson", "text", (c) => c.notNull())
      .execute();
    await db.schema
      .createTable("idempotency")
      .addColumn("key", "text", (c) => c.primaryKey())
      .addColumn("at", "integer", (c) => c.notNull())
      .addColumn("status", "integer", (c) => c.notNull())
      .addColumn("body", "text", (c) => c.notNull())
      .execute();
    await db.schema
      .createTable("secrets")
      .addColumn("name", "text", (c) => c.primaryKey())
      .addColumn("value", "text", (c) => c.notNull())
      .execute();
    await db.schema
      .createTable("counters")
      .addColumn("name", "text", (c) => c.primaryKey())
      .addColumn("value", "integer", (c) => c.notNull())
      .execute();
  },
};
