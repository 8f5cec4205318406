import { readFileSync } from "node:fs";
import { join } from "node:path";
import { sql as raw } from "kysely";
import { makeHistory } from "../demo/history.ts";
import { Sql } from "../server/db/sql.ts";
import { folderOf, percentile, report, start } from "./support.ts";

const LEADS = 100_000;
const EVENTS = 1_000_000;
const READS = 300;
const IDLE_SECONDS = 20;

/**
 * A desk of 100,000 leads and a million events: the demo's real history, copied under other ids until it is
 * that many. Copies keep their rows and events as the engine made them.
 */
async function bigDesk(folder: string): Promise<{ leads: number; events: number; sample: string[] }> {
  await makeHistory(folder);
  const sql = await Sql.open(join(folder, "kite-bell.db"), { durable: false });
  const count = (table: "leads" | "events") =>
    Number(sql.get(sql.q.selectFrom(table).select((eb) => eb.fn.countAll<number>().as("n")))?.n);
  const leads = count("leads");
  const events = count("events");
  const copies = Math.ceil(LEADS / leads);
  for (let k = 1; k < copies; k++) {
    const suffix = `c${k}`;
    const run = (query: ReturnType<typeof raw>) => sql.run({ compile: () => query.compile(sql.q) });
    sql.transaction(() => {
      run(
        raw`insert into leads select id || ${suffix}, seq, replace(leadJson, id, id || ${suffix}), place, placeAt, ownerId, holderId, createdAt, lastActivityAt, search from leads where length(id) = (select min(length(id)) from leads)`,
      );
      if (events * (k + 1) <= EVENTS + events)
        run(
          raw`insert into events (id, leadId, seq, actId, at, actorJson, kind, dataJson, whyJson) select id || ${suffix}, leadId || ${suffix}, seq, actId, at, actorJson, kind, dataJson, whyJson from events where n <= ${events}`,
        );
    });
  }
  const sample = sql
    .all(sql.q.selectFrom("events").select("leadId").distinct().orderBy(raw`random()`).limit(READS))
    .map((r) => r.leadId);
  const size = { leads: count("leads"), events: count("events"), sample };
  sql.close();
  return size;
}

/** Milliseconds of processor time a process has used, by the kernel's own count. */
function cpuOf(pid: number): number {
  const fields = readFileSync(`/proc/${pid}/stat`, "utf8").split(") ")[1]!.split(" ");
  return (Number(fields[11]) + Number(fields[12])) * 10;
}

/** The queue, the sheet and idling, with a database of years. */
export async function benchReading(): Promise<void> {
  const folder = await folderOf("reading");
  const { leads, events, sample } = await bigDesk(folder);
  const server = await start(folder, []);
  const time = async (path: string) => {
    const begun = performance.now();
    const response = await fetch(`${server.origin}/api/v1${path}`);
    await response.text();
    if (!response.ok) throw new Error(`${path} answered ${response.status}`);
    return performance.now() - begun;
  };
  for (let i = 0; i < 30; i++) await time("/queue?limit=60");
  for (const id of sample.slice(0, 30)) await time(`/leads/${id}/sheet`);
  const queue: number[] = [];
  for (let i = 0; i < READS; i++) queue.push(await time("/queue?limit=60"));
  const sheets: number[] = [];
  for (const id of sample) sheets.push(await time(`/leads/${id}/sheet`));
  // On a Sunday nothing falls due: what is left is the cost of waiting.
  await fetch(`${server.origin}/api/v1/rehearsal/clock`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: '{"to":"2026-03-08T18:00:00Z"}',
  });
  await new Promise((resolve) => setTimeout(resolve, 5_000));
  const before = cpuOf(server.child.pid!);
  await new Promise((resolve) => setTimeout(resolve, IDLE_SECONDS * 1000));
  const idle = (cpuOf(server.child.pid!) - before) / IDLE_SECONDS;
  await server.stop();
  const line = (samples: number[]) =>
    `p50 ${percentile(samples, 0.5).toFixed(1)} ms, p95 ${percentile(samples, 0.95).toFixed(1)} ms, p99 ${percentile(samples, 0.99).toFixed(1)} ms`;
  report(`reading with ${leads} leads and ${events} events, over HTTP`, [
    ["the queue's first page (p95 under 50 ms)", line(queue)],
    ["a lead's sheet (p95 under 50 ms)", line(sheets)],
    ["a second of idling (under 5 ms)", `${idle.toFixed(2)} ms of processor time`],
  ]);
}
