import {
  cpSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import pino from "pino";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { Draws } from "../../core/statistics/draws.ts";
import { tarnholt } from "../../demo/tarnholt.ts";
import { MovableClock } from "../clock.ts";
import { BACKUPS, DATABASE } from "../db/folder.ts";
import { KEY_FILE } from "../db/sealer.ts";
import { type Desk, openDesk } from "../desk.ts";
import { verify } from "../verify-desk.ts";
import { backupsIn, checkBackup, dropBackups, nameAt, restoreBackup, writeBackup } from "./backup.ts";
import { BadBackup } from "./sealed-file.ts";

const NOW = Date.parse("2026-03-04T16:00:00Z");
const site = tarnholt.sources.find((s) => s.key === "plan-your-sauna")!;

let root: string;
let desk: Desk;
beforeEach(async () => {
  root = mkdtempSync(join(tmpdir(), "kite-bell-backup-"));
  desk = await open(join(root, "data"));
});
afterEach(async () => {
  await desk.close();
  rmSync(root, { recursive: true, force: true });
});

async function open(data: string): Promise<Desk> {
  const way = { deliver: async () => {}, close: async () => {} };
  return openDesk({
    data,
    clock: new MovableClock(NOW, { frozen: true }),
    setup: tarnholt,
    channels: { email: way, text: way, chat: way },
    url: "https://desk.example",
    log: pino({ level: "silent" }),
  });
}
const submit = (n: number, of = desk) =>
  of.intake.submit(site, {
    contentType: "application/json",
    headers: {},
    raw: Buffer.from(JSON.stringify({ name: `Sender ${n}`, phone: `303555${2000 + n}`, product: "barrel" })),
  });
const place = () => join(root, "backups");
const back = (passphrase: string | null = null, now = NOW) =>
  writeBackup({ data: join(root, "data"), place: place(), passphrase, now });
const restore = (name: string, passphrase: string | null = null, into = "again") =>
  restoreBackup(place(), name, join(root, into), passphrase);
/** Everything in a place, as text. */
const allOf = (folder: string): string =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((f) => f.isFile())
    .map((f) => readFileSync(join(f.parentPath, f.name), "latin1") + f.name)
    .join("\n");

describe("a backup", () => {
  it.each([
    ["plain", null],
    ["sealed", "correct horse battery"],
  ] as const)(
    "%s, of a desk that runs, gives that desk again: leads, events, files, and goes on from there",
    async (_, passphrase) => {
      for (let n = 0; n < 12; n++) await submit(n);
      const file = desk.files.keep(Buffer.from("A plan of the deck"), "deck.txt", "text/plain");
      writeFileSync(join(root, "data", KEY_FILE), "a key of passwords");
      const [{ name, manifest }] = await Promise.all([back(passphrase), submit(20), submit(21)]);
      expect(name).toBe("desk-20260304-160000Z");
      // What came while it was made is in it or not, but never by half.
      expect([12, 13, 14]).toContain(manifest.leads);
      const found = await restore(name, passphrase);
      expect(found).toEqual({
        leads: manifest.leads,
        events: manifest.events,
        files: 1,
        refolded: manifest.leads,
      });
      expect(existsSync(join(root, "again", KEY_FILE))).toBe(passphrase !== null);
      const other = await open(join(root, "again"));
      try {
        expect(verify(other.sql).faults).toEqual([]);
        expect(other.files.read(file.fileId)?.bytes.toString()).toBe("A plan of the deck");
        expect((await submit(1, other)).leadId).not.toBeNull();
        expect(other.kept.ownSecret("forms")).toBe(desk.kept.ownSecret("forms"));
      } finally {
        await other.close();
      }
    },
  );

  it("sealed, shows nobody’s name, and opens by its passphrase alone", async () => {
    await submit(1);
    desk.files.keep(Buffer.from("Sender 1 wants cedar"), "note.txt", "text/plain");
    const { name } = await back("correct horse battery");
    expect(allOf(place())).not.toMatch(/Sender|cedar|303555/);
    await expect(restore(name)).rejects.toThrow("give its passphrase");
    await expect(restore(name, "another passphrase")).rejects.toThrow(BadBackup);
    expect(existsSync(join(root, "again"))).toBe(false);
    // A copy of the place elsewhere is enough.
    cpSync(place(), join(root, "elsewhere"), { recursive: true });
    rmSync(place(), { recursive: true });
    const found = await restoreBackup(
      join(root, "elsewhere"),
      name,
      join(root, "again"),
      "correct horse battery",
    );
    expect(found).toMatchObject({ leads: 1, files: 1, refolded: 1 });
  });

  it.each([
    ["plain", null],
    ["sealed", "correct horse battery"],
  ] as const)(
    "%s, with a byte of it changed anywhere, is refused in words, and nothing is left of the attempt",
    async (_, passphrase) => {
      for (let n = 0; n < 3; n++) await submit(n);
      desk.files.keep(Buffer.from("A plan of the deck"), "deck.txt", "text/plain");
      const { name } = await back(passphrase);
      const files = readdirSync(place(), { recursive: true, withFileTypes: true })
        .filter((f) => f.isFile())
        .map((f) => join(f.parentPath, f.name));
      expect(files.length).toBeGreaterThanOrEqual(2);
      const draws = new Draws(3);
      for (const path of files)
        for (let i = 0; i < 8; i++) {
          const whole = readFileSync(path);
          const changed = Buffer.from(whole);
          changed[Math.floor(draws.next() * whole.length)]! ^= 1 << Math.floor(draws.next() * 8);
          writeFileSync(path, changed);
          await expect(restore(name, passphrase)).rejects.toThrow(BadBackup);
          expect(existsSync(join(root, "again"))).toBe(false);
          writeFileSync(path, whole);
        }
      rmSync(files.at(-1)!);
      await expect(restore(name, passphrase)).rejects.toThrow(/missing|damaged/);
    },
  );

  it("is never put over anything, and what is no backup is none", async () => {
    const { name } = await back();
    await expect(restoreBackup(place(), name, join(root, "data"), null)).rejects.toThrow("is not empty");
    expect(existsSync(join(root, "data", DATABASE))).toBe(true);
    await expect(restore("desk-20200101-000000Z")).rejects.toThrow("is no backup");
    await expect(restore("../data")).rejects.toThrow("is no backup");
    writeFileSync(join(place(), name, "backup.json"), '{"format":2}');
    await expect(restore(name)).rejects.toThrow("damaged");
    expect(backupsIn(place())).toEqual([]);
  });

  it("that would leave the desk no room is not begun, and says how much it takes", async () => {
    const asked = { data: join(root, "data"), place: place(), passphrase: null, now: NOW };
    await expect(writeBackup(asked, 60 * 2 ** 20)).rejects.toThrow(/6[5-9] MB are needed, 60 MB are free/);
    expect([existsSync(place()), backupsIn(place())]).toEqual([false, []]);
  });

  it("that is cut off is none: the next one takes away what it left", async () => {
    await submit(1);
    const part = join(place(), `${nameAt(NOW - 1000)}.part`);
    writeFileSync(join(root, "data", "backup-snapshot.part"), "half of a database");
    await back(null, NOW - 2000);
    cpSync(join(place(), nameAt(NOW - 2000)), part, { recursive: true });
    expect(backupsIn(place()).map((b) => b.name)).toEqual([nameAt(NOW - 2000)]);
    await back();
    expect(existsSync(part)).toBe(false);
    // Whoever has an account on the machine does not read it, and nothing lies open outside of the data folder meanwhile.
    expect(statSync(place()).mode & 0o077).toBe(0);
    expect(readdirSync(join(root, "data")).filter((name) => name.endsWith(".part"))).toEqual([]);
    await checkBackup({ data: join(root, "data"), place: place(), passphrase: null, now: NOW }, nameAt(NOW));
    expect(readdirSync(join(root, "data")).filter((name) => name.endsWith(".part"))).toEqual([]);
    expect(backupsIn(place()).map((b) => b.name)).toEqual([nameAt(NOW), nameAt(NOW - 2000)]);
  });

  it("that was killed leaves no copy behind once the desk runs again: who is erased then is nowhere", async () => {
    await submit(1);
    const data = join(root, "data");
    await writeBackup({ data, place: join(data, BACKUPS), passphrase: null, now: NOW });
    const whole = join(data, BACKUPS, nameAt(NOW));
    await desk.close();
    for (const left of ["backup-snapshot.part", "backup-snapshot.part-journal"])
      cpSync(join(data, DATABASE), join(data, left));
    for (const left of [join(data, "backup-check.part.part"), `${whole}.part`])
      cpSync(whole, left, { recursive: true });
    desk = await open(data);
    const left = (folder: string) => readdirSync(folder).filter((name) => name.includes(".part"));
    expect([...left(data), ...left(join(data, BACKUPS))]).toEqual([]);
    expect(desk.backups.all().map((b) => b.name)).toEqual([nameAt(NOW)]);
  });

  it("keeps a file once for all of them, until none of them has it", async () => {
    const file = desk.files.keep(Buffer.alloc(50_000, "x"), "x.txt", "text/plain");
    const [first, second] = [await back(null, NOW - 86_400_000), await back()];
    const pooled = join(place(), "files", file.fileId);
    expect(statSync(pooled).size).toBeGreaterThan(0);
    dropBackups(place(), [first.name]);
    expect(existsSync(pooled)).toBe(true);
    expect(await restore(second.name)).toMatchObject({ files: 1 });
    dropBackups(place(), [second.name, "../data"]);
    expect([existsSync(pooled), existsSync(join(root, "data", DATABASE))]).toEqual([false, true]);
  });
});
