import type { Migration } from "kysely";

export const conversations: Migration = {
  async up(db) {
    // Which lead a conversation on somebody else's page belongs to, by the page's own name for it.
    await db.schema
      .createTable("conversations")
      .addColumn("sourceId", "text", (c) => c.notNull())
      .addColumn("conversation", "text", (c) => c.notNull())
      .addColumn("leadId", "text", (c) => c.notNull())
      .addPrimaryKeyConstraint("conversationsKey", ["sourceId", "conversation"])
      .execute();
    await db.schema.createIndex("conversationsByLead").on("conversations").column("leadId").execute();
  },
};
