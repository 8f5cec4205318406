import { type Kysely, type Migration, sql } from "kysely";

export const leadRows: Migration = {
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
};
