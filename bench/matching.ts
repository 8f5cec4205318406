import { join } from "node:path";
import { blockingKeys } from "../core/contact/likely.ts";
import { fold } from "../core/lead/fold.ts";
import { tarnholt } from "../demo/tarnholt.ts";
import { MovableClock } from "../server/clock.ts";
import { Sql } from "../server/db/sql.ts";
import { identityOf, Looker } from "../server/engine/looker.ts";
import { LEAD_COLUMNS, leadRow } from "../server/engine/rows.ts";
import { idMaker } from "../server/ids.ts";
import { folderOf, percentile, report } from "./support.ts";

const LEADS = 1_000_000;
const LOOKS = 2_000;

const FIRST =
  "Amara Bjorn Camila Dmitri Esther Farid Greta Hiroshi Imani Jonas Keiko Lorenzo Maeve Nadia Otis Priya John Mary Ana Luis Chen Wei Omar Fatima".split(
    " ",
  );
const LAST =
  "Abara Brandt Castellane Dufour Eriksen Fontaine Grimaldi Hakimi Ivanov Jokinen Kowalski Lindholm Smith Johnson Garcia Martinez Nguyen Lee Brown Davis Okafor Haddad Silva Rossi".split(
    " ",
  );

/** Somebody of a large, badly mixed crowd: some names are very common, as they are. */
export function somebody(i: number) {
  const skew = (n: number, of: number) => Math.floor(((n % 997) / 997) ** 2 * of);
  return {
    name: `${FIRST[skew(i * 7 + 3, FIRST.length)]} ${LAST[skew(i * 13 + 5, LAST.length)]}${i % 5 === 0 ? `-${LAST[i % LAST.length]}` : ""}`,
    emails: [
      `${FIRST[i % 24]!.toLowerCase()}.${i}@${i % 9 === 0 ? `inn${i % 4000}.example` : "mail.example"}`,
    ],
    phones: [`+1${200 + Math.floor(i / 10_000)}555${String(i % 10_000).padStart(4, "0")}`],
    postalCode: String(10_000 + ((i * 31) % 40_000)),
    company: i % 9 === 0 ? `Inn ${i % 4000} Ltd` : null,
  };
}

/** How long sure and likely matches take to find among a million leads. */
export async function benchMatching(): Promise<void> {
  const folder = await folderOf("matching");
  const sql = await Sql.open(join(folder, "kite-bell.db"), { durable: false });
  const clock = new MovableClock(Date.parse("2026-03-04T16:00:00Z"), { frozen: true });
  const id = idMaker(clock);
  const insertLead = sql.inserter("leads", LEAD_COLUMNS);
  const insertContact = sql.inserter("contacts", ["kind", "value", "leadId", "shared"]);
  const insertKey = sql.inserter("likeKeys", ["key", "leadId"]);
  for (let at = 0; at < LEADS; at += 20_000)
    sql.transaction(() => {
      for (let i = at; i < at + 20_000; i++) {
        const who = somebody(i);
        const leadId = id("lead");
        const facts = {
          ...who,
          product: "barrel",
          value: 6_800,
          message: "Will it fit?",
          territory: null,
          zone: null,
          language: null,
          answers: {},
          tags: [],
        };
        const lead = fold(null, {
          id: "e",
          leadId,
          seq: 1,
          actId: "a",
          at: clock.now(),
          actor: { kind: "lead" },
          kind: "inquiry",
          data: { inquiryId: "i", sourceId: "src_site", channel: "website", facts, match: "new", on: null },
        });
        insertLead(leadRow(lead));
        insertContact({ kind: "phone", value: who.phones[0], leadId, shared: 0 });
        for (const key of blockingKeys(identityOf(lead))) insertKey({ key, leadId });
      }
    });
  const looker = new Looker(sql, clock, id, tarnholt);
  const times = { sure: [] as number[], likely: [] as number[] };
  let found = 0;
  for (let k = 0; k < LOOKS; k++) {
    const who = somebody((k * 499_979) % LEADS);
    let begun = performance.now();
    looker.match(who.phones);
    times.sure.push(performance.now() - begun);
    // The same person by another number, with a typing error in the name.
    const again = {
      ...who,
      phones: ["+13035550100"],
      emails: [`again${k}@example.org`],
      name: who.name.replace(/(.)(.)$/, "$2$1"),
    };
    begun = performance.now();
    if (looker.likely(again).length > 0) found++;
    times.likely.push(performance.now() - begun);
  }
  sql.close();
  const line = (t: number[]) =>
    `p50 ${percentile(t, 0.5).toFixed(2)} ms, p95 ${percentile(t, 0.95).toFixed(2)} ms, most ${percentile(t, 1).toFixed(1)} ms`;
  report(`matching among ${LEADS.toLocaleString("en-US")} leads`, [
    ["sure, by phone number", line(times.sure)],
    ["likely, by name and place (p95 under 10 ms)", line(times.likely)],
    ["found again with a typing error", `${Math.round((100 * found) / LOOKS)} % of ${LOOKS}`],
  ]);
}
