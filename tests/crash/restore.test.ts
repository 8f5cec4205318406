import { spawn } from "node:child_process";
import { copyFileSync, existsSync, mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Database from "better-sqlite3";
import { Kysely, Migrator, SqliteDialect } from "kysely";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { Draws } from "../../core/statistics/draws.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { writeBackup } from "../../server/backup/backup.ts";
import { migrations } from "../../server/db/migrations.ts";
import { Sql } from "../../server/db/sql.ts";
import { verify } from "../../server/verify-desk.ts";
import { testDesk } from "../support/desk.ts";

/** A restore and a change of shape, killed with -9 at any moment: nothing is half, and the next one does it all. */

const root = join(import.meta.dirname, "../..");
const ROUNDS = 8;
const LEADS = 400;
const site = tarnholt.sources.find((s) => s.key === "plan-your-sauna")!;

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "kite-bell-killed-"));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

/** Run a built program, and kill it after so long (ms) unless it has ended; gives its code, or null when it was killed. */
const runFor = (args: readonly string[], ms: number | null, env: Record<string, string> = {}) =>
  new Promise<{ code: number | null; said: string }>((resolve) => {
    const child = spawn(process.execPath, args, { cwd: root, env: { ...process.env, ...env } });
    let said = "";
    child.stdout.on("data", (part) => (said += part));
    child.stderr.on("data", (part) => (said += part));
    const end = ms === null ? null : setTimeout(() => child.kill("SIGKILL"), ms);
    child.once("exit", (code) => {
      if (end) clearTimeout(end);
      resolve({ code, said });
    });
  });

async function makeDesk(): Promise<string> {
  const data = join(folder, "data");
  const desk = await testDesk({ data });
  await Promise.all(
    Array.from({ length: LEADS }, (_, n) =>
      desk.intake.submit(site, {
        contentType: "application/json",
        headers: {},
        raw: Buffer.from(
          JSON.stringify({ name: `Lead ${n}`, email: `lead${n}@mail.example`, product: "barrel" }),
        ),
      }),
    ),
  );
  for (let n = 0; n < 30; n++)
    desk.files.keep(Buffer.from(`A file of many ${n} `.repeat(5_000)), `${n}.txt`, "text/plain");
  await desk.close();
  return data;
}

async function wholeIn(data: string): Promise<void> {
  const sql = await Sql.open(join(data, "kite-bell.db"));
  expect(verify(sql)).toMatchObject({ leads: LEADS, faults: [] });
  sql.close();
}

describe("killed with -9", () => {
  it("a restore leaves no folder that could be taken for a desk, and the next one is whole", async () => {
    const data = await makeDesk();
    const place = join(folder, "backups");
    const { name } = await writeBackup({
      data,
      place,
      passphrase: null,
      now: Date.parse("2026-03-04T16:00:00Z"),
    });
    const into = join(folder, "again");
    const restore = ["dist/restore.mjs", "--from", join(place, name), "--data", into];
    // The second time it is as fast as it will be: a kill by that time comes before the end.
    let whole = Number.POSITIVE_INFINITY;
    for (let n = 0; n < 2; n++) {
      const begun = performance.now();
      expect((await runFor(restore, null)).code).toBe(0);
      whole = Math.min(whole, performance.now() - begun);
      rmSync(into, { recursive: true });
    }
    const draws = new Draws(18);
    let killed = 0;
    for (let round = 0; round < ROUNDS; round++) {
      const { code } = await runFor(restore, whole * (0.1 + 0.85 * draws.next()));
      if (code !== 0) killed++;
      if (!existsSync(into)) continue;
      // Under its name it is whole, also when it was killed while it still told of it.
      await wholeIn(into);
      rmSync(into, { recursive: true });
    }
    expect(killed).toBeGreaterThan(0);
    const { code, said } = await runFor(restore, null);
    expect([code, said]).toEqual([0, expect.stringContaining(`${LEADS} leads`)]);
    expect(readdirSync(folder).filter((n) => n.includes(".part"))).toEqual([]);
    await wholeIn(into);
  });

  it("a change of shape is done whole or not at all, and the copy that is kept first is whole", async () => {
    const path = join(folder, "old.db");
    const native = new Database(path);
    const db = new Kysely<unknown>({ dialect: new SqliteDialect({ database: native }) });
    const migrator = new Migrator({ db, provider: { getMigrations: async () => migrations } });
    const { error } = await migrator.migrateTo("014-cadences");
    if (error) throw error;
    const insert = native.prepare(
      "insert into leads (id, seq, leadJson, place, placeAt, createdAt, lastActivityAt, search) values (?, 1, ?, 'parked', 9, 5, 5, 'ana')",
    );
    const text = JSON.stringify({ id: "", name: "Ana".repeat(300), facts: {} });
    native.transaction(() => {
      for (let n = 0; n < 40_000; n++) insert.run(`lead_${n}`, text);
    })();
    const shape = native.prepare("select count(*) as n from sqlite_master").get();
    native.close();
    const data = join(folder, "data");
    const start = ["dist/main.mjs", "--port", "0", "--data", data];
    const isNew = (file: string) => {
      const opened = new Database(file);
      const count = opened.prepare("select count(*) as n from leads").get();
      expect(count).toEqual({ n: 40_000 });
      const there =
        opened.prepare("select name from sqlite_master where name = 'openLinks'").get() !== undefined;
      if (!there) expect(opened.prepare("select count(*) as n from sqlite_master").get()).toEqual(shape);
      opened.close();
      return there;
    };
    const draws = new Draws(19);
    let old = 0;
    for (let round = 0; round < ROUNDS; round++) {
      rmSync(data, { recursive: true, force: true });
      await runFor(["-e", `require("fs").mkdirSync(${JSON.stringify(data)})`], null);
      copyFileSync(path, join(data, "kite-bell.db"));
      await runFor(start, 400 + 2_500 * draws.next(), { KITEBELL_MAIL_PORT: "0" });
      if (!isNew(join(data, "kite-bell.db"))) old++;
      const copy = join(data, "before-upgrade.db");
      if (existsSync(copy)) expect(isNew(copy)).toBe(false);
    }
    expect(old).toBeGreaterThan(0);
    const sql = await Sql.open(join(data, "kite-bell.db"));
    sql.checkIntegrity();
    sql.close();
  });
});
