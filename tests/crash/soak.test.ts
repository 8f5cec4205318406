import { join } from "node:path";
import { afterAll, expect, it } from "vitest";
import { foldAll } from "../../core/lead/fold.ts";
import { isAlone } from "../../core/lead/lead.ts";
import { Sql } from "../../server/db/sql.ts";
import { Reader } from "../../server/read/reader.ts";
import { verify } from "../../server/verify-desk.ts";
import { rungsOnce, thingsTold } from "../support/promises.ts";
import { dataFolder } from "../support/server.ts";
import { soak } from "../support/soak.ts";

/**
 * A day of a desk with everything going wrong at times, and then everything is counted. `npm run soak` is the whole day; here it is a part of
 * it, so that it ends within minutes.
 */

const HOURS = Number(process.env.KITEBELL_SOAK_HOURS) || 4;
/** So many times the demo's rate. */
const RATE = 20;
const SEED = Number(process.env.KITEBELL_SEED) || Date.now() % 1_000_000;
/** What a desk may hold in memory more after hours than before them (bytes): what it knows of its newest leads. */
const MORE = 12 * 2 ** 20;

/** Tables that grow with every lead, and indexes of the few rows in them that wait for something. */
const GROWING =
  /^SCAN (leads|events|inquiries|outbox|accounts|accountTries|accountOffers|shortLinks|searchDocs|hookDeliveries|fileLeads|calls)\b/;
const OF_FEW = /(inquiriesQuarantined|hookDeliveriesLane|hookDeliveriesDead|outboxDead)$/;

const folder = await dataFolder();
afterAll(folder.remove);

const count = <T>(all: readonly T[]): ReadonlyMap<T, number> => {
  const counts = new Map<T, number>();
  for (const one of all) counts.set(one, (counts.get(one) ?? 0) + 1);
  return counts;
};
const twice = <T>(all: readonly T[]) => [...count(all)].filter(([, n]) => n > 1).map(([one]) => one);

it(`${HOURS} hours at ${RATE} times the demo's rate with everything failing at times: nothing lost, nothing doubled, nobody alone, memory flat`, async () => {
  console.log(`Moments are drawn with KITEBELL_SEED=${SEED}.`);
  const seen = await soak({ folder: folder.path, hours: HOURS, rate: RATE, seed: SEED });
  const sql = await Sql.open(join(folder.path, "kite-bell.db"));
  expect(verify(sql).faults).toEqual([]);

  // What was sent is there once, under the name the sender was told.
  const kept = sql.all(sql.q.selectFrom("inquiries").select(["id", "leadId"]));
  const known = new Set(kept.map((k) => k.id));
  expect(kept).toHaveLength(seen.sent.size);
  for (const { inquiryId } of seen.sent.values()) expect(known.has(inquiryId)).toBe(true);
  expect(twice([...seen.sent.values()].map((s) => s.inquiryId))).toEqual([]);

  // Every lead is with somebody, and each bell climbed each of its rungs once.
  const reader = new Reader(sql);
  const leads = sql.all(sql.q.selectFrom("leads").select("id"));
  for (const { id } of leads) {
    const events = reader.events(id);
    expect(isAlone(foldAll(events)!), `${id} is with nobody and on no list`).toBe(false);
    rungsOnce(events);
  }

  // What was to be said was said, once.
  const messages = sql.all(sql.q.selectFrom("outbox").select(["id", "key", "state", "error"]));
  expect(messages.filter((m) => m.state !== "sent")).toEqual([]);
  expect(twice(messages.map((m) => m.key))).toEqual([]);
  expect(thingsTold(seen.outside.list())).toBe(messages.length);

  // Whoever reads the feed has read every event, once and in order, over every kill.
  const events = sql.all(sql.q.selectFrom("events").select("id").orderBy("n"));
  expect(seen.feed.map((e) => e.id)).toEqual(events.map((e) => e.id));

  // Another system was told everything of the kind it asked for; of each lead in order, once for each id it tells apart.
  const first = new Map(seen.hooked.map((h) => [h.id, h] as const).reverse());
  const told = [...first.values()].reverse();
  expect(twice(told.map((h) => h.eventId))).toEqual([]);
  const wanted = sql.all(sql.q.selectFrom("hookDeliveries").select(["id", "state"]));
  expect(wanted.filter((d) => d.state !== "delivered")).toEqual([]);
  expect(new Set(told.map((h) => h.id))).toEqual(new Set(wanted.map((d) => d.id)));
  const place = new Map(events.map((e, n) => [e.id, n]));
  const reached = new Map<string, number>();
  for (const { leadId, eventId } of told) {
    expect(place.get(eventId)!, `${eventId} came after what followed it`).toBeGreaterThan(
      reached.get(leadId) ?? -1,
    );
    reached.set(leadId, place.get(eventId)!);
  }
  sql.close();

  // Nothing that is asked of a desk at work takes longer the older the desk is.
  const slow = seen.scanning.filter(
    ([statement, scans]) =>
      scans.some((scan) => GROWING.test(scan) && !OF_FEW.test(scan)) &&
      // As much as is wanted of them, in the order they lie in.
      !(/limit \?/i.test(statement) && !/ where /i.test(statement)) &&
      // Once, as the desk opens: calls that were cut off by its end.
      !/^update "calls" set/.test(statement),
  );
  expect(slow).toEqual([]);

  const megabytes = seen.held.map((bytes) => (bytes / 2 ** 20).toFixed(1));
  console.log(
    `${seen.sent.size} inquiries, ${leads.length} leads, ${events.length} events, ${messages.length} messages, ${wanted.length} webhooks; ours took ${seen.took} and called ${seen.called}; ${seen.kills} kills, ${seen.jumps} jumps of the clock, ${seen.outages} outages; MB held since the last kill: ${megabytes.join(" ")}.`,
  );
  expect(seen.held.length).toBeGreaterThan(2);
  expect(seen.held.at(-1)! - seen.held[1]!).toBeLessThan(MORE);
  expect(seen.sent.size).toBeGreaterThan(HOURS * RATE * 0.4);
});
