import type { Condition } from "../core/condition/tree.ts";
import { tarnholt } from "../demo/tarnholt.ts";
import { Columns } from "../server/read/columns.ts";
import { LeadCache } from "../server/read/lead-cache.ts";
import { Listing, orderOf, SORTS } from "../server/read/listing.ts";
import { whereOf } from "../server/read/where.ts";
import { LEADS, manyLeads, said, times } from "./many-leads.ts";
import { report } from "./support.ts";

/** How long lists take to open among a million leads. `SQL=1` asks the database alone, as while memory is filled. */
export async function benchListing(): Promise<void> {
  const { sql, now } = await manyLeads("listing");
  const leads = new LeadCache(sql);
  const columns = new Columns(sql);
  let begun = performance.now();
  const heap = process.memoryUsage();
  columns.start();
  while (!columns.now()) await new Promise((resolve) => setTimeout(resolve, 20));
  const filled = performance.now() - begun;
  const used = process.memoryUsage();
  const megabytes = (used.heapUsed + used.arrayBuffers - heap.heapUsed - heap.arrayBuffers) / 1_000_000;
  const listing = new Listing(sql, leads, process.env.SQL ? null : columns);
  const conditions: (Condition | null)[] = [
    null,
    { all: [{ field: "product", is: "equal", value: "lodge" }] },
    {
      all: [
        { field: "tag", is: "equal", value: "show" },
        { field: "value", is: "at-least", value: 5_000 },
      ],
    },
    { all: [{ field: "age", is: "at-most", value: 2 }] },
    { none: [{ field: "state", is: "one-of", value: ["closed", "parked"] }] },
    {
      any: [
        { field: "company", is: "starts-with", value: "inn 39" },
        { field: "quiet", is: "at-least", value: 398 },
      ],
    },
  ];
  const pages: Record<string, number[]> = { "by activity": [], "by another order": [] };
  const counts: number[] = [];
  for (const condition of conditions)
    for (const by of Object.keys(SORTS)) {
      const list = { where: whereOf(condition, tarnholt, now), order: orderOf(by)!, of: null };
      let next: string | null = null;
      for (let page = 0; page < 3; page++) {
        begun = performance.now();
        next = listing.page(list, 100, next).next;
        pages[by === "recent" ? "by activity" : "by another order"]!.push(performance.now() - begun);
        if (!next) break;
      }
      begun = performance.now();
      listing.count(list);
      counts.push(performance.now() - begun);
    }
  columns.stop();
  sql.close();
  report(`listing ${said(LEADS)} leads`, [
    [
      "taking the columns into memory",
      `${(filled / 1_000).toFixed(1)} s beside everything else, ${megabytes.toFixed(0)} MB`,
    ],
    ...Object.entries(pages).map(([name, t]): [string, string] => [
      `a page of a list, ${name} (p95 under 100 ms)`,
      times(t),
    ]),
    ["its count (p95 under 100 ms)", times(counts)],
  ]);
}
