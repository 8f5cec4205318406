import { type Kysely, type Migration, sql } from "kysely";

export const doors: Migration = {
  async up(db: Kysely<unknown>) {
    // The same key with another body is a mistake of the caller's, and is told so.
    await sql`alter table idempotency add column bodyHash text`.execute(db);
    // The program that acted for somebody.
    await sql`alter table audit add column via text`.execute(db);
    await sql`alter table inquiries add column held integer not null default 0`.execute(db);
    await sql`update inquiries set held = 1 where state = 'quarantined' and reason like '%Replay it if it is a person''s.'`.execute(
      db,
    );
    await sql`alter table files add column "by" text`.execute(db);
    // Which leads a file belongs to: who may see one of them may see the file.
    await db.schema
      .createTable("fileLeads")
      .addColumn("fileId", "text", (c) => c.notNull())
      .addColumn("leadId", "text", (c) => c.notNull())
      .addPrimaryKeyConstraint("fileLeadsByFile", ["fileId", "leadId"])
      .modifyEnd(sql`without rowid`)
      .execute();
    await db.schema.createIndex("fileLeadsByLead").on("fileLeads").columns(["leadId"]).execute();
    await sql`
      insert or ignore into fileLeads
      select json_extract(file.value, '$.fileId'), leadId
      from events, json_each(dataJson, '$.attachments') as file
      where kind in ('message-in', 'message-out')`.execute(db);
    await sql`
      insert or ignore into fileLeads
      select json_extract(dataJson, '$.recording.fileId'), leadId from events
      where kind in ('called-in', 'called-out') and json_extract(dataJson, '$.recording.fileId') is not null`.execute(
      db,
    );
    // Documents that name several people: the first is taken at once, the others one after another.
    await db.schema
      .createTable("documents")
      .addColumn("inquiryId", "text", (c) => c.primaryKey())
      .addColumn("done", "integer", (c) => c.notNull())
      .execute();
    // Leads whose automatic reply waits for somebody to let it go.
    await db.schema
      .createTable("heldReplies")
      .addColumn("leadId", "text", (c) => c.primaryKey())
      .addColumn("sourceId", "text", (c) => c.notNull())
      .modifyEnd(sql`without rowid`)
      .execute();
  },
};
