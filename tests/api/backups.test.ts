import { execFile } from "node:child_process";
import { mkdtemp, readdir, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { basename, join } from "node:path";
import { promisify } from "node:util";
import { afterEach, describe, expect, it, vi } from "vitest";
import { startBucket } from "../../standins/bucket.ts";
import { asPerson, client, dataFolder, PEOPLE, type Running, startServer } from "../support/server.ts";

/** Backups as an administrator has them made, and as one brings a desk back on another day. */

const run = promisify(execFile);
let server: Running;
let folder: Awaited<ReturnType<typeof dataFolder>>;
let api: ReturnType<typeof client>;

async function open(place?: string): Promise<void> {
  folder = await dataFolder();
  server = await startServer(folder.path, {
    env: place ? { KITEBELL_BACKUPS: join(folder.path, place) } : {},
  });
  api = client(server.origin);
  await api.post("/rehearsal/clock", { to: "2026-03-04T16:00:00Z" });
}
afterEach(async () => {
  await server.stop();
  await folder.remove();
});

const USUAL = { on: false, time: "02:30", keep: { daily: 7, weekly: 4, monthly: 12 } };
const ended = () =>
  vi.waitFor(
    async () => {
      const { body } = await api.get("/backups");
      expect(body.last?.state).not.toBe("running");
      return body;
    },
    { timeout: 120_000, interval: 100 },
  );
const backUp = async () => {
  expect((await api.post("/backups/now")).body.last.state).toBe("running");
  return ended();
};
const inquire = (n: number) =>
  api.post("/intake/plan-your-sauna", {
    name: `Caller ${n}`,
    phone: `303 555 ${1000 + n}`,
    product: "barrel",
  });

describe("backups", () => {
  it("are made at a press, sealed where that is wanted, and bring the desk back in an empty folder", async () => {
    await open();
    for (let n = 0; n < 5; n++) await inquire(n);
    const first = await backUp();
    expect(first).toMatchObject({
      ...USUAL,
      sealed: false,
      nextAt: null,
      last: { state: "done", error: null },
    });
    expect(first.items).toMatchObject([
      { at: expect.stringMatching(/^2026-03-04T16:0/), sealed: false, leads: 5 },
    ]);
    const passphrase = "correct horse battery";
    expect((await api.post("/backups", { ...USUAL, passphrase })).body.sealed).toBe(true);
    await api.post("/rehearsal/clock", { advance: "PT1M" });
    await inquire(5);
    const { items, place } = await backUp();
    expect(items).toMatchObject([
      { sealed: true, leads: 6 },
      { sealed: false, leads: 5 },
    ]);
    // Nothing of the check is left behind, and nobody is told the passphrase.
    expect((await readdir(place)).filter((name) => /check|part/.test(name))).toEqual([]);
    expect(JSON.stringify((await api.get("/audit")).body)).not.toContain(passphrase);

    const again = await mkdtemp(join(tmpdir(), "kite-bell-again-"));
    const restore = (env: Record<string, string>) =>
      run(process.execPath, ["dist/restore.mjs", "--from", join(place, items[0].name), "--data", again], {
        cwd: join(import.meta.dirname, "../.."),
        env: { ...process.env, ...env },
      });
    await expect(restore({})).rejects.toMatchObject({ stderr: "It is sealed: give its passphrase.\n" });
    const { stdout } = await restore({ KITEBELL_PASSPHRASE: passphrase });
    expect(stdout).toMatch(/^Restored into .*: 6 leads, \d+ events, 0 files\./);
    const other = await startServer(again);
    try {
      const found = await client(other.origin).get("/leads?q=Caller");
      expect(found.body.items).toHaveLength(6);
    } finally {
      await other.stop();
      await rm(again, { recursive: true, force: true });
    }
  });

  it("are made by themselves each night, and kept by their pattern", async () => {
    await open();
    const keep = { daily: 2, weekly: 0, monthly: 0 };
    const saved = await api.post("/backups", { on: true, time: "02:30", keep });
    expect(saved.body.nextAt).toBe("2026-03-05T09:30:00.000Z");
    for (let night = 1; night <= 3; night++) {
      await api.post("/rehearsal/clock", { advance: "P1D" });
      await vi.waitFor(
        async () => {
          const { items, last } = (await api.get("/backups")).body;
          expect([last?.state, items.length]).toEqual(["done", Math.min(night, 2)]);
          expect(items[0].at).toContain(`2026-03-0${4 + night}T09:30`);
        },
        { timeout: 120_000, interval: 100 },
      );
    }
  });

  it("go with the rehearsal that made them, also one that is being written just then", async () => {
    await open();
    await inquire(1);
    expect((await backUp()).items).toHaveLength(1);
    expect((await api.post("/backups/now")).body.last.state).toBe("running");
    expect((await api.post("/rehearsal/begin", { with: "empty" })).status).toBe(200);
    expect((await api.get("/backups")).body).toMatchObject({ items: [], last: null });
    expect(await readdir(folder.path)).not.toContain("backups");
    await inquire(1);
    expect((await backUp()).items).toMatchObject([{ leads: 1 }]);
  });

  it("are copied to a bucket, and a machine that has nothing but its address brings the desk back", async () => {
    await open();
    const far = await startBucket();
    const again = await mkdtemp(join(tmpdir(), "kite-bell-again-"));
    try {
      const url = `${far.url}/tarnholt/desk`;
      const away = { url, region: "", keyId: "rehearsal", secret: "rehearsal-secret" };
      const save = (more: object) => api.post("/backups", { ...USUAL, ...more });
      // Open ones go nowhere, and nothing is kept that does not work.
      expect((await save({ away })).body.detail).toContain("Seal backups by a passphrase first");
      await save({ passphrase: "correct horse battery" });
      for (const [wrong, said] of [
        [{ secret: "another" }, "SignatureDoesNotMatch"],
        [{ url: "https://s3.example.com" }, "Which bucket?"],
        [{ url: "http://127.0.0.1:1/tarnholt" }, "ECONNREFUSED"],
      ] as const) {
        const { status, body } = await save({ away: { ...away, ...wrong } });
        expect([status, body.errors[0].path]).toEqual([422, "away"]);
        expect(body.detail).toContain(said);
      }
      expect((await api.get("/backups")).body.away).toBeNull();
      const { body: saved } = await save({ away });
      expect(saved.away).toEqual({ url, region: "", keyId: "rehearsal", hasSecret: true });
      // Its pattern is changed without the address, and the secret is told to nobody.
      expect((await save({})).body.away).toEqual(saved.away);
      expect((await save({ passphrase: null })).body.code).toBe("copied-away");
      for (const place of ["/backups", "/audit", "/setup"])
        expect(JSON.stringify((await api.get(place)).body)).not.toContain("rehearsal-secret");

      for (let n = 0; n < 3; n++) await inquire(n);
      const { last, items } = await backUp();
      expect(last).toMatchObject({ state: "done", awayError: null });
      expect([...far.objects.keys()]).toContain(`tarnholt/desk/${items[0].name}/backup.json`);
      const env = { KITEBELL_S3_KEY: "rehearsal", KITEBELL_S3_SECRET: "rehearsal-secret" };
      const { stdout } = await run(
        process.execPath,
        ["dist/restore.mjs", "--from", `${url}/${items[0].name}`, "--data", again],
        {
          cwd: join(import.meta.dirname, "../.."),
          env: { ...process.env, ...env, KITEBELL_PASSPHRASE: "correct horse battery" },
        },
      );
      expect(stdout).toMatch(/^Restored into .*: 3 leads/);
      expect(await readdir(join(again, ".."))).not.toContain(`${basename(again)}.fetched`);

      // A bucket that is away stops no backup, and everybody who looks hears of it until one is copied again.
      const said = async () =>
        ((await api.get("/troubles")).body.items as { said: string | null }[]).map((t) => t.said);
      far.fault = "down";
      await api.post("/rehearsal/clock", { advance: "P1D" });
      expect((await backUp()).last).toMatchObject({
        state: "done",
        error: null,
        awayError: expect.any(String),
      });
      expect(await said()).toContainEqual(expect.stringMatching(/^The last backup was not copied away: /));
      far.fault = "none";
      await api.post("/rehearsal/clock", { advance: "P1D" });
      expect((await backUp()).last).toMatchObject({ state: "done", awayError: null });
      expect(await said()).toEqual([]);
      expect([...far.objects.keys()].filter((key) => key.endsWith("backup.json"))).toHaveLength(3);

      // Both are ended at once as well.
      expect((await save({ away: null, passphrase: null })).body).toMatchObject({
        away: null,
        sealed: false,
      });
    } finally {
      await far.close();
      await rm(again, { recursive: true, force: true });
    }
  });

  it("that fail say so to everybody who looks, and are an administrator’s alone", async () => {
    // A folder within what is no folder.
    await open("kite-bell.db/backups");
    const { last, items } = await backUp();
    expect([last.state, items]).toEqual(["failed", []]);
    const troubles = (await api.get("/troubles")).body.items as { said: string | null }[];
    expect(troubles.map((t) => t.said)).toContainEqual(expect.stringMatching(/^The last backup failed: /));
    // One of the night is tried again within the hour, until the next night's.
    await api.post("/backups", { ...USUAL, on: true });
    await api.post("/rehearsal/clock", { to: "2026-03-05T09:30:00Z" });
    const night = await ended();
    expect(night).toMatchObject({ items: [], last: { state: "failed" } });
    expect(night.nextAt).toMatch(/^2026-03-05T10:30:/);
    const as = asPerson(() => server.origin);
    for (const person of [PEOPLE.salesperson, PEOPLE.coordinator, PEOPLE.manager]) {
      expect((await as(person, "GET", "/backups")).status).toBe(403);
      expect((await as(person, "POST", "/backups/now")).status).toBe(403);
    }
    for (const [more, path] of [
      [{ time: "25:00" }, "time"],
      [{ keep: { daily: -1, weekly: 0, monthly: 0 } }, "keep.daily"],
      [{ passphrase: "short" }, "passphrase"],
    ] as const) {
      const { status, body } = await api.post("/backups", { ...USUAL, ...more });
      expect([status, body.errors[0].path]).toEqual([422, path]);
    }
  });
});
