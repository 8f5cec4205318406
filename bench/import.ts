import { readFileSync, writeFileSync } from "node:fs";
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

/** A 200,000-row list loaded into the demo's desk: speed, memory, the desk meanwhile, and going on after a kill. */
export async function benchImport(): Promise<void> {
  const folder = await folderOf("import");
  const text = table(ROWS);
  writeFileSync(join(folder, "list.csv"), text);
  const bareSeconds = Math.min(await bare(folder, text), await bare(await folderOf("import-bare"), text));
  const data = join(folder, "desk");
  await makeHistory(data);
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
  const before = peakOf(server.child.pid!);
  begun = performance.now();
  const { id } = await api<{ id: string }>("/imports", { ...options, name: "list.csv", total: check.total });
  const waits: number[] = [];
  let killed = 0;
  let away = 0;
  let peak = 0;
  for (;;) {
    // As often as a coordinator's browser would ask.
    await new Promise((resolve) => setTimeout(resolve, 200));
    const asked = performance.now();
    await (await fetch(`${server.origin}/api/v1/queue?limit=60`)).arrayBuffer();
    waits.push(performance.now() - asked);
    const progress = await api<Progress>(`/imports/${id}`);
    peak = Math.max(peak, peakOf(server.child.pid!));
    if (process.env.TRACE)
      console.log(((performance.now() - begun) / 1000).toFixed(1), progress.done, progress.state);
    if (!killed && progress.done > ROWS / 2) {
      killed = progress.done;
      const gone = performance.now();
      const ended = new Promise<void>((resolve) => server.child.once("exit", () => resolve()));
      server.child.kill("SIGKILL");
      await ended;
      server = await start(data, []);
      away = performance.now() - gone;
    }
    if (progress.state !== "running") {
      const seconds = (performance.now() - begun - away) / 1000;
      await server.stop();
      const rate = ROWS / seconds;
      report(`a list of ${ROWS.toLocaleString("en-US")} rows into the demo's desk, not routed`, [
        [
          "papaparse and batched inserts, two indexes",
          `${Math.round(ROWS / bareSeconds).toLocaleString("en-US")} rows/s`,
        ],
        ["checked whole, nothing written", `${checkSeconds.toFixed(1)} s`],
        [
          "loaded: stored, matched, as events",
          `${Math.round(rate).toLocaleString("en-US")} rows/s (${seconds.toFixed(1)} s)`,
        ],
        ["ratio (at least 0.33)", (rate / (ROWS / bareSeconds)).toFixed(2)],
        [
          "killed at row, gone on, ended with",
          `${killed}; ${progress.made} made, ${progress.joined} joined, ${progress.rejected} refused`,
        ],
        [
          "queue meanwhile, p50 and p95 (under 100 ms)",
          `${percentile(waits, 0.5).toFixed(0)} and ${percentile(waits, 0.95).toFixed(0)} ms of ${waits.length}`,
        ],
        [
          "most memory before and while loading (under 400 MB)",
          `${before.toFixed(0)} and ${peak.toFixed(0)} MB`,
        ],
      ]);
      return;
    }
  }
}
