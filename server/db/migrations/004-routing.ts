import type { Kysely, Migration } from "kysely";

export const routing: Migration = {
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
};
