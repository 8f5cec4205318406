import { join } from "node:path";
import type { LeadEvent } from "../core/lead/events.ts";
import { fold } from "../core/lead/fold.ts";
import type { Lead } from "../core/lead/lead.ts";
import { MovableClock } from "../server/clock.ts";
import { Sql } from "../server/db/sql.ts";
import { EVENT_COLUMNS, eventRow, LEAD_COLUMNS, leadRow } from "../server/engine/rows.ts";
import { idMaker } from "../server/ids.ts";
import { somebody } from "./matching.ts";
import { folderOf, percentile } from "./support.ts";

/** How many leads there are. */
export const LEADS = Number(process.env.LEADS ?? 1_000_000);
const DAY = 86_400_000;
const NOTES = [
  "Wants to measure the deck first.",
  "Asked for snow load papers.",
  "Builds next spring, call in March.",
];
const PRODUCTS = ["barrel", "cabin", "plunge", "lodge"];

/** A database of {@link LEADS} leads of the last 400 days, every other one with a note. */
export async function manyLeads(name: string) {
  const folder = await folderOf(name);
  const path = join(folder, "kite-bell.db");
  const sql = await Sql.open(path, { durable: false, references: false });
  const now = Date.parse("2026-03-04T16:00:00Z");
  const clock = new MovableClock(now, { frozen: true });
  let ticks = now;
  // A clock that stands still gives one id twice among so many.
  const id = idMaker({ now: () => ticks++ });
  const insertLead = sql.inserter("leads", LEAD_COLUMNS);
  const insertEvent = sql.inserter("events", EVENT_COLUMNS);
  let events = 0;
  for (let first = 0; first < LEADS; first += 20_000)
    sql.transaction(() => {
      for (let i = first; i < Math.min(LEADS, first + 20_000); i++) {
        const leadId = id("lead");
        const at = now - Math.floor(((LEADS - i) / LEADS) * 400 * DAY);
        let lead: Lead | null = null;
        const happen = (kind: string, data: object, seq: number) => {
          const event = {
            id: id("ev"),
            leadId,
            seq,
            actId: id("act"),
            at: at + seq,
            actor: { kind: "lead" },
            kind,
            data,
          } as unknown as LeadEvent;
          lead = fold(lead, event);
          insertEvent(eventRow(event));
          events++;
        };
        const facts = {
          ...somebody(i),
          product: PRODUCTS[i % 4],
          value: 1_000 + (i % 90) * 100,
          message: `Will it fit on ${i % 700} feet?`,
          territory: null,
          zone: null,
          language: null,
          answers: {},
          tags: i % 50 === 0 ? ["show"] : [],
        };
        const source = i % 3 === 0 ? "src_site" : "src_ad";
        happen(
          "inquiry",
          { inquiryId: "i", sourceId: source, channel: "website", facts, match: "new", on: null },
          1,
        );
        if (i % 2 === 0) happen("noted", { text: NOTES[i % 3] }, 2);
        insertLead(leadRow(lead!));
      }
    });
  return { sql, path, clock, now, events };
}

/** How long something took, many times over (ms each). */
export const times = (t: readonly number[]) =>
  `p50 ${percentile([...t], 0.5).toFixed(1)} ms, p95 ${percentile([...t], 0.95).toFixed(1)} ms, most ${percentile([...t], 1).toFixed(0)} ms (${t.length})`;

export const said = (n: number) => n.toLocaleString("en-US");
