import { statSync } from "node:fs";
import pino from "pino";
import { tarnholt } from "../demo/tarnholt.ts";
import { LeadCache } from "../server/read/lead-cache.ts";
import { Search } from "../server/search/search.ts";
import { LEADS, manyLeads, said, times } from "./many-leads.ts";
import { somebody } from "./matching.ts";
import { report } from "./support.ts";

const LOOKS = 1_000;

/** How long search takes as one types, among a million leads. */
export async function benchFinding(): Promise<void> {
  const { sql, path, clock, events } = await manyLeads("finding");
  const leads = new LeadCache(sql);
  const search = new Search({ sql, leads, clock, log: pino({ level: "silent" }), setup: () => tarnholt });
  const before = statSync(path).size;
  let begun = performance.now();
  while (search.index.follow(20_000));
  const indexed = performance.now() - begun;
  sql.checkpoint();
  const grown = (statSync(path).size - before) / 1_000_000;

  const typing: number[] = [];
  const mistyped: number[] = [];
  const timed = (taken: number[], typed: string) => {
    begun = performance.now();
    const hits = search.find(typed, { of: null, limit: 8 });
    taken.push(performance.now() - begun);
    return hits;
  };
  let found = 0;
  for (let k = 0; k < LOOKS; k++) {
    const who = somebody((k * 499_979) % LEADS);
    // As one types: from the third letter on, every third one.
    const typed = k % 3 === 0 ? who.phones[0]!.slice(-7) : k % 3 === 1 ? who.name : who.emails[0]!;
    for (let n = 3; n < typed.length; n += 3) timed(typing, typed.slice(0, n));
    timed(typing, typed);
    const wrong = who.name.replace(/(.)(.)$/, "$2$1");
    if (timed(mistyped, wrong).some((h) => h.lead.name === who.name)) found++;
  }
  for (const words of ["snow load", "measure deck", "will it fit 333", "spring march", "smith snow"])
    for (let k = 0; k < 20; k++) timed(typing, words);

  sql.close();
  report(`finding among ${said(LEADS)} leads and ${said(events)} events`, [
    [
      "taking all of it into the index",
      `${(indexed / 1_000).toFixed(0)} s, ${Math.round((1_000 * events) / indexed)} events a second, ${grown.toFixed(0)} MB`,
    ],
    ["search, at each piece as one types (p95 under 50 ms)", times(typing)],
    [
      "search, with a typing error",
      `${times(mistyped)}; ${((100 * found) / LOOKS).toFixed(1)} % found among eight`,
    ],
  ]);
}
