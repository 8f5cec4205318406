import { type Kysely, type Migration, sql } from "kysely";

async function up(db: Kysely<unknown>): Promise<void> {
  // What can be found: a row for what is known of each lead, and one for each thing that was written.
  await sql`create table searchDocs (
    n integer primary key, leadId text not null, eventN integer)`.execute(db);
  await sql`create unique index searchDocsByLead on searchDocs (leadId, ifnull(eventN, 0))`.execute(db);
  // Two indexes: in one, whoever looks for a word in what was written would pass all who are called by it.
  for (const table of ["searchKnown", "searchWrote"])
    await sql`create virtual table ${sql.ref(table)} using fts5(
      text, content = '', contentless_delete = 1, tokenize = 'trigram')`.execute(db);
  // What words leads are named by, under each of their gaps: words one typing error apart share one.
  await sql`create table searchGaps (gap text not null, word text not null, primary key (gap, word)) without rowid`.execute(
    db,
  );
  // What is known of each lead as it stands in the index, to see that it has changed.
  await sql`create table searchOwn (leadId text primary key, own text not null, named text not null) without rowid`.execute(
    db,
  );
}

export const search: Migration = { up };
