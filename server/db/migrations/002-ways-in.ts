import { type Kysely, type Migration, sql } from "kysely";

export const waysIn: Migration = {
  async up(db: Kysely<unknown>) {
    // A number several people share is known, but tells nobody apart.
    await sql`alter table contacts add column shared integer not null default 0`.execute(db);
    await db.schema
      .createTable("likeKeys")
      .addColumn("key", "text", (c) => c.notNull())
      .addColumn("leadId", "text", (c) => c.notNull().references("leads.id"))
      .addPrimaryKeyConstraint("likeKeysByKey", ["key", "leadId"])
      .modifyEnd(sql`without rowid`)
      .execute();
    await sql`alter table outbox add column headersJson text`.execute(db);
    await sql`alter table inquiries add column fingerprint text`.execute(db);
    await sql`alter table inquiries add column test integer not null default 0`.execute(db);
    await sql`create index inquiriesByPrint on inquiries (fingerprint, receivedAt) where fingerprint is not null`.execute(
      db,
    );
    await sql`create index inquiriesBySource on inquiries (sourceId, receivedAt)`.execute(db);
    await sql`create index inquiriesByLead on inquiries (leadId)`.execute(db);
    await db.schema
      .createTable("arrivals")
      .addColumn("sourceId", "text", (c) => c.notNull())
      .addColumn("hour", "integer", (c) => c.notNull())
      .addColumn("n", "integer", (c) => c.notNull())
      .addPrimaryKeyConstraint("arrivalsByHour", ["sourceId", "hour"])
      .modifyEnd(sql`without rowid`)
      .execute();
    await db.schema
      .createTable("sourceStates")
      .addColumn("sourceId", "text", (c) => c.primaryKey())
      .addColumn("stateJson", "text", (c) => c.notNull())
      .execute();
    await db.schema
      .createTable("files")
      .addColumn("id", "text", (c) => c.primaryKey())
      .addColumn("type", "text", (c) => c.notNull())
      .addColumn("size", "integer", (c) => c.notNull())
      .addColumn("at", "integer", (c) => c.notNull())
      .execute();
    await db.schema
      .createTable("imports")
      .addColumn("id", "text", (c) => c.primaryKey())
      .addColumn("at", "integer", (c) => c.notNull())
      .addColumn("by", "text", (c) => c.notNull())
      .addColumn("sourceId", "text", (c) => c.notNull())
      .addColumn("name", "text", (c) => c.notNull())
      .addColumn("fileId", "text", (c) => c.notNull().references("files.id"))
      .addColumn("optionsJson", "text", (c) => c.notNull())
      .addColumn("state", "text", (c) => c.notNull())
      .addColumn("total", "integer", (c) => c.notNull())
      .addColumn("done", "integer", (c) => c.notNull())
      .addColumn("made", "integer", (c) => c.notNull())
      .addColumn("joined", "integer", (c) => c.notNull())
      .addColumn("rejected", "integer", (c) => c.notNull())
      .addColumn("indexed", "integer", (c) => c.notNull())
      .addColumn("finishedAt", "integer")
      .addColumn("error", "text")
      .execute();
    // Rows of a list are inquiries too, but come by the hundred thousand and need no more than this: their originals
    // stand in the file.
    await db.schema
      .createTable("importRows")
      .addColumn("importId", "text", (c) => c.notNull())
      .addColumn("row", "integer", (c) => c.notNull())
      .addColumn("leadId", "text", (c) => c.notNull())
      .addColumn("made", "integer", (c) => c.notNull())
      .addPrimaryKeyConstraint("importRowsByRow", ["importId", "row"])
      .modifyEnd(sql`without rowid`)
      .execute();
    await db.schema
      .createTable("importRejects")
      .addColumn("importId", "text", (c) => c.notNull().references("imports.id"))
      .addColumn("row", "integer", (c) => c.notNull())
      .addColumn("cellsJson", "text", (c) => c.notNull())
      .addColumn("reason", "text", (c) => c.notNull())
      .addPrimaryKeyConstraint("importRejectsByRow", ["importId", "row"])
      .modifyEnd(sql`without rowid`)
      .execute();
    await db.schema
      .createTable("headerMappings")
      .addColumn("key", "text", (c) => c.primaryKey())
      .addColumn("at", "integer", (c) => c.notNull())
      .addColumn("mappingJson", "text", (c) => c.notNull())
      .execute();
  },
};
