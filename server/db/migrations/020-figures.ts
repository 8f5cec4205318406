import { type Kysely, type Migration, sql } from "kysely";

/** What figures are told from, one row a lead, a try and an offer; and what sources have cost. */
export const figures: Migration = {
  async up(db: Kysely<unknown>) {
    await sql`create table accounts (
      leadId text primary key, seq integer not null, came integer not null, source text not null, lastSource text not null,
      campaign text, lastCampaign text, channel text, product text, zone text, rule text, groupId text, person text,
      kept integer not null, repliedAt integer, triedAt integer, talkedAt integer,
      unrepliedAt integer, untriedAt integer, untalkedAt integer,
      dueAt integer, answeredAt integer, letOffAt integer, rangAt integer,
      tries integer not null, talkedAtTry integer, stages text not null,
      handedOverAt integer, boughtAt integer, closedAt integer, closedAs text, inquiries integer not null
    ) without rowid`.execute(db);
    await sql`create index accountsByTime on accounts (came)`.execute(db);
    await sql`create table accountTries (
      leadId text not null, n integer not null, at integer not null, person text, channel text not null,
      reached integer not null, talked integer, wrapped integer)`.execute(db);
    await sql`create index accountTriesOf on accountTries (leadId)`.execute(db);
    await sql`create index accountTriesByTime on accountTries (at)`.execute(db);
    await sql`create table accountOffers (
      leadId text not null, person text not null, at integer not null, endedAt integer, how text)`.execute(
      db,
    );
    await sql`create index accountOffersOf on accountOffers (leadId)`.execute(db);
    await sql`create index accountOffersByTime on accountOffers (at)`.execute(db);
    // Whoever is taken out is told of in no figure; the number of its last event may be given again.
    await sql`create trigger accountGone after delete on leads begin
      delete from accounts where leadId = old.id;
      delete from accountTries where leadId = old.id;
      delete from accountOffers where leadId = old.id;
      update counters set value = min(value, (select coalesce(max(n), 0) from events)) where name = 'figures-up-to';
      end`.execute(db);
    await sql`create table spend (
      sourceId text not null, campaign text not null, month text not null, amount integer not null,
      currency text not null, by text not null, at integer not null,
      primary key (sourceId, campaign, month, currency)) without rowid`.execute(db);
  },
};
