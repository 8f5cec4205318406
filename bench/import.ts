import { cpSync, readFileSync } from "node:fs";
import { join } from "node:path";
import Papa from "papaparse";
import { makeHistory } from "../demo/history.ts";
import { Sql } from "../server/db/sql.ts";
import { folderOf, percentile, report, start } from "./support.ts";

const ROWS = 200_000;

const FIRST =
  "Amara Bjorn Camila Dmitri Esther Farid Greta Hiroshi Imani Jonas Keiko Lorenzo Maeve Nadia Otis Priya".split(
    " ",
  );
const LAST =
  "Abara Brandt Castellane Dufour Eriksen Fontaine Grimaldi Hakimi Ivanov Jokinen Kowalski Lindholm".split(
    " ",
  );

/** A show's list: names, phones, addresses; no two the same, one in a hundred without a way to reach them. */
export function table(rows: number): string {
  const lines = ["Name,Phone,Email,Postal code,Interest,Remark"];
  for (let i = 0; i < rows; i++) {
    const phone = `${200 + (i % 700)} ${200 + (Math.floor(i / 700) % 700)} ${String(i % 10_000).padStart(4, "0")}`;
    const ways = i % 100 === 99 ? "," : `${phone},visitor${i}@example.com`;
    const name = `${FIRST[i % FIRST.length]} ${LAST[(i >> 4) % LAST.length]}`;
    lines.push(`${name},${ways},${80000 + (i % 999)},barrel,"Talked at the stand, row ${i}"`);
  }
  return `${lines.join("\n")}\n`;
}

/** The same rows parsed by papaparse and written by batched inserts to one table with the keys an importer must look up. */
async function bare(folder: string, text: string): Promise<number> {
  const sql = await Sql.open(join(folder, "bare.db"));
  const { q } = sql;
  await q.schema
    .createTable("rows")
    .addColumn("id", "integer", (c) => c.primaryKey())
    .addColumn("name", "text")
    .addColumn("phone", "text")
    .addColumn("email", "text")
    .addColumn("postal", "text")
    .addColumn("interest", "text")
    .addColumn("remark", "text")
    .execute();
  await q.schema.createIndex("byPhone").on("rows").column("phone").execute();
  await q.schema.createIndex("byEmail").on("rows").column("email").execute();
  const begun = performance.now();
  const { data } = Papa.parse<string[]>(text, { skipEmptyLines: true });
  const insert = sql.inserter(
    "rows" as never,
    ["id", "name", "phone", "email", "postal", "interest", "remark"] as never[],
  );
  for (let at = 1; at < data.length; at += 500)
    sql.transaction(() => {
      for (let i = at; i < Math.min(data.length, at + 500); i++) {
        const [name, phone, email, postal, interest, remark] = data[i]!;
        insert({ id: i, name, phone, email, postal, interest, remark });
      }
    });
  const seconds = (performance.now() - begun) / 1000;
  sql.close();
  return seconds;
}

/** The most memory a process has held, in MB, by the kernel's own count. */
function peakOf(pid: number): number {
  return Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))?.[1]) / 1024;
}

interface Progress {
  readonly state: string;
  readonly done: number;
  readonly made: number;
  readonly joined: number;
  readonly rejected: number;
}

interface Loaded {
  /** Without the time from a kill until the next server was ready. */
  readonly seconds: number;
  readonly progress: Progress;
  readonly waits: readonly number[];
  readonly checkSeconds: number;
  /** The most memory held while checking and while loading (MB). */
  readonly checked: number;
  readonly peak: number;
  readonly killedAt: number;
  readonly undoSeconds: number;
}

/** Check and load the list into a desk, killed half way if asked to, and take it back again if not. */
async function load(data: string, text: string, kill: boolean): Promise<Loaded> {
  let server = await start(data, []);
  const api = async <T>(path: string, body?: object): Promise<T> => {
    const init = body && {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify(body),
    };
    return (await fetch(`${server.origin}/api/v1${path}`, init)).json() as Promise<T>;
  };
  const sent = await fetch(`${server.origin}/api/v1/imports/preview?name=list.csv`, {
    method: "POST",
    body: text,
  });
  const { fileId, fields } = (await sent.json()) as { fileId: string; fields: object };
  const options = { fileId, sourceId: "garden-show", fields, tags: [], route: false };
  let begun = performance.now();
  const check = await api<{ total: number }>("/imports/check", options);
  const checkSeconds = (performance.now() - begun) / 1000;
  const checked = peakOf(server.child.pid!);
  begun = performance.now();
  const { id } = await api<{ id: string }>("/imports", { ...options, name: "list.csv", total: check.total });
  const waits: number[] = [];
  let killedAt = 0;
  let away = 0;
  let peak = 0;
  let progress: Progress;
  do {
    // As often as a coordinator's browser would ask.
    await new Promise((resolve) => setTimeout(resolve, 200));
    const asked = performance.now();
    await (await fetch(`${server.origin}/api/v1/queue?limit=60`)).arrayBuffer();
    waits.push(performance.now() - asked);
    progress = await api<Progress>(`/imports/${id}`);
    peak = Math.max(peak, peakOf(server.child.pid!));
    if (kill && !killedAt && progress.done > ROWS / 2) {
      killedAt = progress.done;
      const gone = performance.now();
      const ended = new Promise<void>((resolve) => server.child.once("exit", () => resolve()));
      server.child.kill("SIGKILL");
      await ended;
      server = await start(data, []);
      away = performance.now() - gone;
    }
  } while (progress.state === "running");
  const seconds = (performance.now() - begun - away) / 1000;
  begun = performance.now();
  if (!kill) await api(`/imports/${id}/undo`, {});
  const undoSeconds = (performance.now() - begun) / 1000;
  await server.stop();
  return { seconds, progress, waits, checkSeconds, checked, peak, killedAt, undoSeconds };
}

/** A 200,000-row list loaded into the demo's desk: speed, memory, the desk meanwhile, and going on after a kill. */
export async function benchImport(): Promise<void> {
  const folder = await folderOf("import");
  const text = table(ROWS);
  const bareSeconds = Math.min(await bare(folder, text), await bare(await folderOf("import-bare"), text));
  const data = join(folder, "desk");
  const again = join(folder, "again");
  await makeHistory(data);
  cpSync(data, again, { recursive: true });
  const whole = await load(data, text, false);
  const killed = await load(again, text, true);
  const rate = ROWS / whole.seconds;
  const { made, joined, rejected } = killed.progress;
  const rows = (n: number) => `${Math.round(n).toLocaleString("en-US")} rows/s`;
  const p = (share: number) => percentile([...whole.waits, ...killed.waits], share).toFixed(0);
  report(`a list of ${ROWS.toLocaleString("en-US")} rows into the demo's desk, not routed`, [
    ["papaparse and batched inserts, two indexes", rows(ROWS / bareSeconds)],
    ["checked whole, nothing written", `${whole.checkSeconds.toFixed(1)} s`],
    ["loaded: stored, matched, as events", `${rows(rate)} (${whole.seconds.toFixed(1)} s)`],
    ["ratio (at least 0.33)", (rate / (ROWS / bareSeconds)).toFixed(2)],
    ["taken back whole", `${whole.undoSeconds.toFixed(1)} s`],
    [
      "killed at row, gone on, ended with",
      `${killed.killedAt}; ${made} made, ${joined} joined, ${rejected} refused; ${killed.seconds.toFixed(1)} s`,
    ],
    ["queue meanwhile, p50 and p95 (under 100 ms)", `${p(0.5)} and ${p(0.95)} ms`],
    [
      "most memory, checking and loading (under 400 MB)",
      `${whole.checked.toFixed(0)} and ${whole.peak.toFixed(0)} MB; after the kill ${killed.peak.toFixed(0)} MB`,
    ],
  ]);
}
