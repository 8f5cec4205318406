import { type Kysely, type Migration, sql } from "kysely";

/** Migrations in order; never change one that has shipped, add another. */
export const migrations: Record<string, Migration> = {
  "001-beginning": {
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
  },
  "002-ways-in": {
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
  },
  "003-answering": {
    async up(db: Kysely<unknown>) {
      await sql`alter table outbox add column attachmentsJson text`.execute(db);
      // Whom we last wrote to at a number or address: their answer finds its conversation, shared number or not.
      await sql`create index outboxToLeads on outbox (toAddress, n) where purpose in ('reply', 'first-reply')`.execute(
        db,
      );
      // Each channel is looked through by itself: what waits for a dead mail server holds up no text.
      await sql`drop index outboxDue`.execute(db);
      await sql`create index outboxDueByChannel on outbox (channel, nextAt) where state = 'queued'`.execute(
        db,
      );
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
  },
  "004-routing": {
    async up(db: Kysely<unknown>) {
      // Every published version of the rules, whole, so that any of them can be read, played back and brought back.
      await db.schema
        .createTable("ruleVersions")
        .addColumn("version", "integer", (c) => c.primaryKey())
        .addColumn("at", "integer", (c) => c.notNull())
        .addColumn("by", "text")
        .addColumn("note", "text", (c) => c.notNull())
        .addColumn("rulesJson", "text", (c) => c.notNull())
        .execute();
      // Who went on or off duty by hand. Not part of the setup's versions: it happens many times a day.
      await db.schema
        .createTable("duty")
        .addColumn("n", "integer", (c) => c.primaryKey())
        .addColumn("personId", "text", (c) => c.notNull())
        .addColumn("at", "integer", (c) => c.notNull())
        .addColumn("off", "integer", (c) => c.notNull())
        .addColumn("by", "text")
        .execute();
      // Who changed which policy, role or key: in words, and what it was before.
      await db.schema
        .createTable("audit")
        .addColumn("n", "integer", (c) => c.primaryKey())
        .addColumn("at", "integer", (c) => c.notNull())
        .addColumn("by", "text")
        .addColumn("what", "text", (c) => c.notNull())
        .addColumn("detailJson", "text", (c) => c.notNull())
        .execute();
      await db.schema
        .createTable("apiKeys")
        .addColumn("id", "text", (c) => c.primaryKey())
        .addColumn("hash", "text", (c) => c.notNull().unique())
        .addColumn("name", "text", (c) => c.notNull())
        .addColumn("start", "text", (c) => c.notNull())
        .addColumn("scopesJson", "text", (c) => c.notNull())
        .addColumn("at", "integer", (c) => c.notNull())
        .addColumn("by", "text", (c) => c.notNull())
        .addColumn("lastUsedAt", "integer")
        .addColumn("revokedAt", "integer")
        .execute();
    },
  },
  "005-bells": {
    async up(db: Kysely<unknown>) {
      // What rang is told of each morning; what woke is counted per rule. Both are few among all events.
      await sql`create index eventsOfRinging on events (at) where kind = 'rang'`.execute(db);
      await sql`create index eventsOfWaking on events (at) where kind = 'woken'`.execute(db);
    },
  },
  "006-slices": {
    async up(db: Kysely<unknown>) {
      // Rows of a list are looked up all together or not at all: many of them make one record.
      await db.schema
        .createTable("importSlices")
        .addColumn("importId", "text", (c) => c.notNull())
        .addColumn("row", "integer", (c) => c.notNull())
        .addColumn("leadsJson", "text", (c) => c.notNull())
        .addPrimaryKeyConstraint("importSlicesByRow", ["importId", "row"])
        .execute();
      await sql`
        insert into importSlices
        select importId, min("row"), json_group_array(json_array("row", leadId, made) order by "row")
        from importRows group by importId, "row" / 500`.execute(db);
      await db.schema.dropTable("importRows").execute();
    },
  },
  "007-lead-rows": {
    async up(db: Kysely<unknown>) {
      // Leads are too large to be kept in their index itself: five to a page, it grew eight levels deep.
      await db.schema
        .createTable("leadRows")
        .addColumn("id", "text", (c) => c.primaryKey().notNull())
        .addColumn("seq", "integer", (c) => c.notNull())
        .addColumn("leadJson", "text", (c) => c.notNull())
        .addColumn("place", "text", (c) => c.notNull())
        .addColumn("placeAt", "integer", (c) => c.notNull())
        .addColumn("ownerId", "text")
        .addColumn("holderId", "text")
        .addColumn("createdAt", "integer", (c) => c.notNull())
        .addColumn("lastActivityAt", "integer", (c) => c.notNull())
        .addColumn("search", "text", (c) => c.notNull())
        .execute();
      await sql`insert into leadRows select * from leads order by id`.execute(db);
      await sql`drop table leads`.execute(db);
      await sql`alter table leadRows rename to leads`.execute(db);
      await db.schema.createIndex("leadsByPlace").on("leads").columns(["place", "placeAt", "id"]).execute();
      await db.schema.createIndex("leadsByActivity").on("leads").columns(["lastActivityAt", "id"]).execute();
      await sql`create index leadsByHolder on leads (holderId) where holderId is not null`.execute(db);
    },
  },
  "008-taken-today": {
    async up(db: Kysely<unknown>) {
      // Who got how many today is counted at the start, without reading all that happened today.
      await sql`create index eventsOfTaking on events (at) where kind in ('taken', 'given')`.execute(db);
    },
  },
  "009-doors": {
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
  },
  "010-tests": {
    async up(db: Kysely<unknown>) {
      // Tests are few and soon gone; what counts leads leaves them out.
      await sql`create index inquiriesOfTests on inquiries (leadId) where test = 1`.execute(db);
      // Being off duty by hand may end on its own.
      await db.schema.alterTable("duty").addColumn("until", "integer").execute();
    },
  },
};
