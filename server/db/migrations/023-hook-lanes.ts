import { type Kysely, type Migration, sql } from "kysely";

/** What another system is told of one lead goes in order: each delivery has a lane, and begins to be tried at a time. */
export const hookLanes: Migration = {
  async up(db: Kysely<unknown>) {
    await sql`alter table hookDeliveries add column lane text not null default ''`.execute(db);
    await sql`alter table hookDeliveries add column since integer not null default 0`.execute(db);
    await sql`update hookDeliveries set lane = coalesce(leadId, dealId, id), since = at`.execute(db);
    await sql`create index hookDeliveriesLane on hookDeliveries (hookId, lane, id) where state = 'queued'`.execute(
      db,
    );
    await sql`create index hookDeliveriesDead on hookDeliveries (hookId, answeredAt) where state = 'dead'`.execute(
      db,
    );
    await sql`create index hookDeliveriesOf on hookDeliveries (leadId)`.execute(db);
  },
};
