import { copyFileSync, statSync } from "node:fs";
import { readFile } from "node:fs/promises";
import { join } from "node:path";
import Database from "better-sqlite3";
import { makeHistory } from "../demo/history.ts";
import { writeBackup } from "../server/backup/backup.ts";
import { said, times } from "./many-leads.ts";
import { folderOf, percentile, report, start } from "./support.ts";

/** How many events there are. */
const EVENTS = Number(process.env.EVENTS ?? 10_000_000);
/** Over so many years they lie. */
const YEARS = 10;
const YEAR = 365.25 * 86_400_000;
const READS = 100;
const SENT = 400;
/** What is projected to: ten years of a busy desk. */
const INQUIRIES = 10_000_000;

/** What is copied, by the rows' own order; the rest is small, or made again by the desk. */
const TABLES = [
  "leads",
  "inquiries",
  "events",
  "outbox",
  "accounts",
  "accountTries",
  "accountOffers",
] as const;
/** Columns that are alike in no two rows. */
const UNIQUE: ReadonlySet<string> = new Set(["dedupe"]);
const KEYED = ["contacts", "likeKeys", "bookings"] as const;

/**
 * The demo's closed leads many times over, each time as other people in other years, until there are so many events: ids, times, numbers and
 * addresses differ in every row, in columns and inside JSON alike. Gives how many events, inquiries and leads there are.
 */
export async function manyYears(folder: string, wanted: number) {
  await makeHistory(folder);
  const path = join(folder, "kite-bell.db");
  const db = new Database(path);
  db.pragma("journal_mode = OFF");
  db.pragma("synchronous = OFF");
  db.pragma("cache_size = -1000000");
  const count = (table: string) =>
    (db.prepare(`select count(*) as n from ${table}`).get() as { n: number }).n;
  db.exec("create temp table old as select id from leads where place = 'closed'");
  const each = (
    db.prepare("select count(*) as n from events where leadId in (select id from old)").get() as { n: number }
  ).n;
  const copies = Math.ceil((wanted - count("events")) / each);
  // The newest have the highest numbers, as they would.
  for (const table of ["events", "outbox"]) {
    const most = (db.prepare(`select max(n) as n from ${table}`).get() as { n: number }).n;
    db.exec(`update ${table} set n = -n; update ${table} set n = -n + ${copies * most}`);
  }
  let suffix = "";
  let ahead = "";
  let earlier = 0;
  db.function("moved", { deterministic: true }, (value) =>
    typeof value !== "string"
      ? value
      : value
          .replace(/\b[a-z]+_0m[0-9a-z]{12,}/g, (id) => id + suffix)
          .replace(/\b17[67]\d{10}\b/g, (at) => String(Number(at) - earlier))
          .replace(/\+1(\d{3})555/g, (_, area: string) => `+1${area}${ahead}`)
          .replace(/([\w.+-]+)@/g, (_, local: string) => `${local}${suffix}@`),
  );
  const indexes = db
    .prepare(
      "select name, sql from sqlite_master where type = 'index' and sql is not null and tbl_name in (select value from json_each(?))",
    )
    .all(JSON.stringify([...TABLES, ...KEYED])) as { name: string; sql: string }[];
  for (const { name } of indexes) db.exec(`drop index "${name}"`);
  const inserts = [...TABLES, ...KEYED].map((table) => {
    const columns = db.prepare(`select name, type from pragma_table_info('${table}')`).all() as {
      name: string;
      type: string;
    }[];
    const most = columns.some((c) => c.name === "n") && table !== "accountTries";
    db.exec(
      `create temp table "base_${table}" as select * from ${table} where ${table === "leads" ? "id" : "leadId"} in (select id from old)`,
    );
    const span = most
      ? (db.prepare(`select max(n) - min(n) + 1 as n from ${table}`).get() as { n: number }).n
      : 0;
    const from = columns.map(({ name, type }) =>
      name === "n" && most
        ? "n - @back * @span"
        : /int/i.test(type)
          ? `case when "${name}" > 1700000000000 then "${name}" - @earlier else "${name}" end`
          : type === "blob"
            ? `"${name}"`
            : UNIQUE.has(name)
              ? `moved("${name}") || '~' || @back`
              : `moved("${name}")`,
    );
    return {
      span,
      insert: db.prepare(
        `insert or ignore into ${table} (${columns.map((c) => `"${c.name}"`).join(", ")}) select ${from.join(", ")} from "base_${table}"`,
      ),
    };
  });
  for (let back = 1; back <= copies; back++) {
    suffix = back.toString(36).padStart(3, "x");
    ahead = String(200 + (back % 800));
    earlier = Math.round((back / copies) * YEARS * YEAR);
    db.transaction(() => {
      for (const { insert, span } of inserts) insert.run({ back, span, earlier });
    })();
  }
  for (const { sql } of indexes) db.exec(sql);
  // Figures are copied with their leads. What is found by is measured by itself (`finding`), and held here.
  db.exec("update counters set value = (select max(n) from events) where name = 'figures-up-to'; analyze");
  const found = { events: count("events"), inquiries: count("inquiries"), leads: count("leads") };
  db.pragma("journal_mode = WAL");
  db.close();
  return { path, ...found };
}

/** Memory a process holds (bytes), by the kernel's own count. */
const heldBy = async (pid: number) =>
  Number(/VmRSS:\s+(\d+)/.exec(await readFile(`/proc/${pid}/status`, "utf8"))?.[1]) * 1024;
const gigabytes = (bytes: number) => `${(bytes / 1e9).toFixed(1)} GB`;

/** Erase somebody in the night, while others work: how long it took (ms), and how long the queue took meanwhile. */
async function erase(origin: string, leadId: string, look: () => Promise<number>) {
  const post = async (path: string, body: object) => {
    const response = await fetch(`${origin}/api/v1${path}`, {
      method: "POST",
      headers: { cookie: "kb_me=p_oskar", origin, "content-type": "application/json" },
      body: JSON.stringify(body),
    });
    if (!response.ok) throw new Error(`${path} answered ${response.status}: ${await response.text()}`);
  };
  await post(`/leads/${leadId}/erase`, { because: "They asked for it" });
  // Up to the hour it is done at: what falls due until then is another matter.
  await post("/rehearsal/clock", { to: "2026-03-05T09:55:00Z" });
  let isDone = false;
  const from = performance.now();
  const night = post("/rehearsal/clock", { to: "2026-03-05T10:05:00Z" }).then(() => {
    isDone = true;
  });
  const looks: number[] = [];
  while (!isDone) looks.push(await look());
  await night;
  return { took: performance.now() - from, looks };
}

/** A desk of years: how much room it takes, how long everything takes in it, and what that comes to for ten years of a busy one. */
export async function benchScale(): Promise<void> {
  const folder = await folderOf("scale");
  const begun = performance.now();
  const { path, events, inquiries, leads } = await manyYears(folder, EVENTS);
  const size = statSync(path).size;
  console.log(`made in ${((performance.now() - begun) / 1000).toFixed(0)} s`);
  const byTable = new Database(path, { readonly: true });
  const sizes = byTable
    .prepare("select name, sum(pgsize) as bytes from dbstat group by name order by bytes desc limit 8")
    .all() as { name: string; bytes: number }[];
  byTable.close();

  const opened = performance.now();
  const server = await start(folder, [], { KITEBELL_INDEX: "hold" });
  const ready = performance.now() - opened;
  const held = await heldBy(server.child.pid!);
  const time = async (path: string, post?: object) => {
    const from = performance.now();
    const response = await fetch(`${server.origin}/api/v1${path}`, {
      headers: { authorization: "Bearer rehearsal", "content-type": "application/json" },
      ...(post && { method: "POST", body: JSON.stringify(post) }),
    });
    await response.text();
    if (!response.ok) throw new Error(`${path} answered ${response.status}`);
    return performance.now() - from;
  };
  const many = async (n: number, does: (i: number) => Promise<number>) => {
    const all: number[] = [];
    for (let i = 0; i < n; i++) all.push(await does(i));
    return all;
  };
  const sample = new Database(path, { readonly: true });
  const ids = sample.prepare("select id from leads order by random() limit ?").all(READS) as { id: string }[];
  sample.close();
  const queue = await many(READS, () => time("/queue?limit=60"));
  const sheets = await many(READS, (i) => time(`/leads/${ids[i]!.id}/sheet`));
  const list = await many(20, () => time("/leads?limit=50"));
  const intake = await many(SENT, (i) =>
    time("/intake/plan-your-sauna", {
      name: `Sender ${i}`,
      phone: `303 556 ${String(1000 + i)}`,
      product: "barrel",
      submission_id: `scale-${i}`,
    }),
  );
  const figures = await many(3, () => time("/figures/response?span=28d"));
  const erasing = await erase(server.origin, ids[0]!.id, () => time("/queue?limit=60"));
  await server.stop();

  const place = await folderOf("scale-backups");
  const asked = { data: folder, place, passphrase: null, now: Date.parse("2026-03-04T16:00:00Z") };
  const backupFrom = performance.now();
  const { name } = await writeBackup(asked);
  const backedUp = performance.now() - backupFrom;
  const backup = statSync(join(place, name, "desk.kbb")).size;
  const copyFrom = performance.now();
  copyFileSync(path, join(place, "copy"));
  const copied = performance.now() - copyFrom;

  const times10 = INQUIRIES / inquiries;
  report(
    `a desk of ${said(events)} events, ${said(inquiries)} inquiries and ${said(leads)} leads over ${YEARS} years`,
    [
      ["its database", `${gigabytes(size)}, ${said(Math.round(size / inquiries))} bytes an inquiry`],
      ...sizes.map(({ name, bytes }) => [`  ${name}`, gigabytes(bytes)] as const),
      ["ready after its start", `${(ready / 1000).toFixed(1)} s`],
      ["memory held then", gigabytes(held)],
      ["the queue's first page", times(queue)],
      ["a lead's sheet", times(sheets)],
      ["the first page of all leads", times(list)],
      ["an inquiry, from sent to acknowledged", times(intake)],
      ["response times of 28 days", `${percentile(figures, 0.5).toFixed(0)} ms`],
      ["somebody is erased in the night", `${(erasing.took / 1000).toFixed(0)} s`],
      ["  the queue meanwhile", times(erasing.looks)],
      ["a backup", `${(backedUp / 1000).toFixed(0)} s, ${gigabytes(backup)}`],
      ["a plain copy of the file", `${(copied / 1000).toFixed(0)} s`],
      [
        `ten years of a busy desk, ${said(INQUIRIES)} inquiries`,
        `${said(Math.round(events * times10))} events`,
      ],
      ["  database", gigabytes(size * times10)],
      ["  a backup", `${gigabytes(backup * times10)}, ${((backedUp * times10) / 60_000).toFixed(0)} min`],
    ],
  );
}
