import { type Kysely, type Migration, sql } from "kysely";

export const slices: Migration = {
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
};
