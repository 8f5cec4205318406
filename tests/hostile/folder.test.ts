import { spawnSync } from "node:child_process";
import { existsSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterEach, describe, expect, it } from "vitest";
import { Sql } from "../../server/db/sql.ts";
import { verify } from "../../server/verify-desk.ts";
import { client, dataFolder, type Running, startServer } from "../support/server.ts";

/** What happens to the data folder behind the desk's back: two desks on one, parts of it gone, a disk that is full. */

const cleanUp: (() => unknown)[] = [];
afterEach(async () => {
  for (const done of cleanUp.splice(0).reverse()) await done();
});

async function folder(): Promise<string> {
  const { path, remove } = await dataFolder();
  cleanUp.push(remove);
  return path;
}
async function start(data: string): Promise<Running> {
  const server = await startServer(data);
  cleanUp.push(() => server.stop());
  return server;
}
const inquire = (server: Running, n: number, more: object = {}) =>
  client(server.origin).post("/intake/plan-your-sauna", {
    name: `Visitor ${n}`,
    phone: `(${300 + Math.floor(n / 100)}) 555-01${String(n % 100).padStart(2, "0")}`,
    submission_id: `s${n}`,
    ...more,
  });

describe("one folder", () => {
  it("has one desk: the second says who has it, and ends; a killed one leaves it free", async () => {
    const data = await folder();
    const first = await start(data);
    await expect(startServer(data)).rejects.toThrow(
      new RegExp(`Another Kite Bell works in ${data} \\(process ${first.process.pid}, since .*Stop it first`),
    );
    expect((await inquire(first, 1)).status).toBe(202);
    await first.stop("SIGKILL");
    const next = await start(data);
    expect((await client(next.origin).get("/leads")).body.items).toHaveLength(1);
  });

  it.each([
    ["is missing", (path: string) => rmSync(path)],
    ["is empty", (path: string) => writeFileSync(path, "")],
  ])(
    "whose database %s is no new desk: it is missed, and nothing begins in its place",
    async (state, spoil) => {
      const data = await folder();
      const server = await start(data);
      await inquire(server, 1);
      await server.stop();
      const database = join(data, "kite-bell.db");
      spoil(database);
      await expect(startServer(data)).rejects.toThrow(
        `but its database kite-bell.db ${state}. Put it back from a copy of the folder.`,
      );
      expect(existsSync(database) ? readFileSync(database, "utf8") : "").toBe("");
    },
  );

  it("whose log was lost keeps what was moved into the file, and says on top what may be missing", async () => {
    const data = await folder();
    const server = await start(data);
    await inquire(server, 1);
    await server.stop();
    const again = await start(data);
    for (let n = 2; n < 6; n++) await inquire(again, n);
    await again.stop("SIGKILL");
    rmSync(join(data, "kite-bell.db-wal"));
    const after = await start(data);
    const api = client(after.origin);
    // What came before the last start is in the file itself.
    expect((await api.get("/leads?q=visitor 1")).body.items).toHaveLength(1);
    const troubles = (await api.get("/troubles")).body.items;
    expect(troubles.find((t: { key: string }) => t.key === "log").said).toContain(
      "log was lost before this start: what was written after",
    );
  });

  it("a damaged part is told of, in health too", async () => {
    const data = await folder();
    const server = await start(data);
    for (let n = 0; n < 40; n++) await inquire(server, n);
    await server.stop();
    const database = join(data, "kite-bell.db");
    const bytes = readFileSync(database);
    // Everything but the first pages, where the tables are described and the desk finds its own.
    for (let at = 4096 * 40; at + 4096 <= bytes.length; at += 4096) bytes.fill(0xff, at, at + 4096);
    writeFileSync(database, bytes);
    let said = "";
    try {
      const damaged = await start(data);
      const api = client(damaged.origin);
      for (const path of ["/leads?limit=200", "/queue", "/audit", "/quarantine"]) await api.get(path);
      const health = await api.get("/health");
      expect([health.status, health.body.ok]).toEqual([503, false]);
      said = health.body.said;
    } catch (error) {
      said = String(error);
    }
    expect(said).toMatch(/damaged|malformed/);
  });
});

/** Whether a small disk of its own can be made here; where not, the tests below say that they were left out. */
const mayMount =
  spawnSync("sh", ["-c", "d=$(mktemp -d) && mount -t tmpfs -o size=1m tmpfs $d && umount $d && rmdir $d"])
    .status === 0;

async function smallDisk(megabytes: number): Promise<string> {
  const path = await folder();
  expect(spawnSync("mount", ["-t", "tmpfs", "-o", `size=${megabytes}m`, "tmpfs", path]).status).toBe(0);
  cleanUp.push(() => spawnSync("umount", ["-l", path]));
  return path;
}

describe.runIf(mayMount)("a disk of thirty megabytes", () => {
  const fill = (data: string) => {
    // As full as it gets, to the last byte.
    spawnSync("sh", [
      "-c",
      `dd if=/dev/zero of=${data}/ballast bs=64k 2>/dev/null; dd if=/dev/zero of=${data}/ballast2 bs=1 count=8192 2>/dev/null`,
    ]);
  };
  const free = (data: string) => {
    for (const name of ["ballast", "ballast2"]) rmSync(join(data, name), { force: true });
  };

  it("filled under traffic, freed and filled again: the desk lives, says so, reads on, loses nothing it acknowledged", async () => {
    const data = await smallDisk(30);
    const server = await start(data);
    const api = client(server.origin);
    const told = new Map<number, string>();
    let n = 0;
    let refused = 0;
    /** Inquiries until one is refused, or as many as `most`. */
    const traffic = async (most: number, until: (status: number) => boolean) => {
      for (let i = 0; i < most; i++) {
        n++;
        const { status, body } = await inquire(server, n % 4_000, {
          submission_id: `d${n}`,
          message: "x".repeat(2_000),
        });
        if (status === 202) told.set(n, body.inquiryId);
        else {
          expect(status).toBe(503);
          refused++;
        }
        if (until(status)) return true;
      }
      return false;
    };
    for (let round = 0; round < 2; round++) {
      expect(await traffic(40, (status) => status === 503)).toBe(false);
      fill(data);
      expect(await traffic(2_000, (status) => status === 503)).toBe(true);
      const health = await api.get("/health");
      expect([health.status, health.body.said]).toEqual([503, expect.stringContaining("The disk is full")]);
      // Reading works, with a key and without.
      expect((await api.get("/queue")).status).toBe(200);
      expect((await api.get("/leads?limit=5")).body.items.length).toBeGreaterThan(0);
      expect(JSON.stringify((await api.get("/troubles")).body)).toContain("The disk is full");
      const entry = await api.post("/leads", {
        name: "Typed",
        phone: "303 555 0199",
        note: "y".repeat(40_000),
      });
      expect([201, 503]).toContain(entry.status);
      free(data);
      await expect.poll(async () => (await api.get("/health")).status, { interval: 200 }).toBe(200);
      expect(await traffic(5, (status) => status !== 202)).toBe(false);
    }
    expect(refused).toBeGreaterThan(0);
    expect(server.process.exitCode).toBeNull();
    await server.stop();
    const sql = await Sql.open(join(data, "kite-bell.db"));
    expect(verify(sql).faults).toEqual([]);
    const kept = new Set(sql.all(sql.q.selectFrom("inquiries").select("id")).map((row) => row.id));
    for (const [of, id] of told) expect([of, kept.has(id)]).toEqual([of, true]);
    sql.close();
  }, 480_000);

  it("that is full lets a desk start and read with the room that was set aside", async () => {
    const data = await smallDisk(90);
    const server = await start(data);
    await inquire(server, 1);
    await server.stop();
    expect(existsSync(join(data, "kite-bell.reserve"))).toBe(true);
    fill(data);
    const full = await start(data);
    expect((await client(full.origin).get("/leads")).body.items).toHaveLength(1);
    free(data);
  }, 300_000);

  it("that may only be read says so in a sentence", async () => {
    const data = await smallDisk(30);
    expect(spawnSync("mount", ["-o", "remount,ro", data]).status).toBe(0);
    await expect(startServer(data)).rejects.toThrow(`The folder ${data} can’t be written to`);
  });
});
