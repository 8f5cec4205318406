import { createHash, randomBytes } from "node:crypto";
import {
  createReadStream,
  createWriteStream,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmdirSync,
  rmSync,
  statfsSync,
  statSync,
} from "node:fs";
import { join } from "node:path";
import { Readable } from "node:stream";
import { buffer } from "node:stream/consumers";
import { pipeline } from "node:stream/promises";
import Database from "better-sqlite3";
import { z } from "zod";
import { type KeepPattern, toKeep } from "../../core/backup/keep.ts";
import { DATABASE } from "../db/folder.ts";
import { KEY_FILE } from "../db/sealer.ts";
import { Sql } from "../db/sql.ts";
import { writeWhole } from "../files/write-whole.ts";
import { verify } from "../verify-desk.ts";
import { BadBackup, keyOf, readSealed, writeSealed } from "./sealed-file.ts";

/** The parts of a place of backups: one folder for each backup, and one of files that all of them share. */
export const MANIFEST = "backup.json";
export const DESK = "desk.kbb";
export const KEY = "key.kbb";
export const SALT = "salt";
const PART = ".part";
export const NAME = /^desk-\d{8}-\d{6}Z$/;
/** Where a snapshot lies until it is in its file, and where a backup is read again: in the data folder. */
const SNAPSHOT = `backup-snapshot${PART}`;
const CHECK = `backup-check${PART}`;
/** So many leads are refolded to know that a backup can be worked with. */
const SAMPLE = 300;

/** A snapshot, its log, and the copy that is checked: so much room it takes for a while, and so much is left to the desk (bytes). */
const TIMES_ITSELF = 3;
const SPARE = 64 * 2 ** 20;
const freeIn = (folder: string): number => {
  const { bavail, bsize } = statfsSync(folder);
  return bavail * bsize;
};
const megabytes = (bytes: number) => `${Math.ceil(bytes / 2 ** 20).toLocaleString("en")} MB`;

/** More pages than any database has. */
const ALL_PAGES = 2 ** 31 - 1;

const Sum = z.string().regex(/^[0-9a-f]{64}$/);
/** What is known of a backup without opening it: nothing that names anybody. It stands in its file with its own SHA-256 below. */
const Manifest = z.object({
  format: z.literal(1),
  /** Epoch ms. */
  at: z.number().int(),
  sealed: z.boolean(),
  leads: z.number().int(),
  events: z.number().int(),
  /** Of the desk's file as it lies here, and of the database in it. */
  sum: Sum,
  plainSum: Sum,
  bytes: z.number().int(),
  /** Each file that came with something: its name in the place, and the SHA-256 of what lies there. */
  files: z.array(z.object({ name: Sum, sum: Sum })),
  /** Whether the key of kept passwords is in it: never in one that is not sealed. */
  withKey: z.boolean(),
});
export type Manifest = z.infer<typeof Manifest>;

export interface BackupAsked {
  /** The data folder, and the place of backups. */
  readonly data: string;
  readonly place: string;
  readonly passphrase: string | null;
  /** Epoch ms. */
  readonly now: number;
}

/** Take away what a backup that was killed left in the data folder or in the place. */
export function clearLeft(folder: string): void {
  if (!existsSync(folder)) return;
  // A copy of a database may have a log beside it.
  for (const name of readdirSync(folder))
    if ([SNAPSHOT, CHECK].some((own) => name.startsWith(own)) || /^desk-.*\.part$/.test(name))
      rmSync(join(folder, name), { recursive: true });
}

/** A backup's name by its time, in UTC: `desk-20260304-023000Z`. */
export const nameAt = (at: number): string =>
  `desk-${new Date(at).toISOString().slice(0, 19).replaceAll(/[-:]/g, "").replace("T", "-")}Z`;

/** When a backup was made, by its name (epoch ms, whole seconds). */
export const timeOf = (name: string): number =>
  Date.parse(name.replace(/^desk-(....)(..)(..)-(..)(..)(..)Z$/, "$1-$2-$3T$4:$5:$6Z"));

/** The salt of a place, made with its first sealed backup. */
function saltOf(place: string): Buffer {
  const path = join(place, SALT);
  if (!existsSync(path)) writeWhole(path, randomBytes(16));
  return readFileSync(path);
}

/** The name of a file in the place: of a sealed one it tells nothing of what is in it. */
const fileName = (id: string, key: Buffer | null): string =>
  key ? createHash("sha256").update(key).update(id).digest("hex") : id;

/** Where the files lie that all backups of a place share. */
export const poolOf = (place: string, sealed: boolean) => join(place, sealed ? "files-sealed" : "files");

/**
 * Back a desk up while it runs: a snapshot of its database by SQLite's own backup, what came with messages, and, sealed, the key of
 * kept passwords. Under its name it is whole; what a killed one left is taken away. Blocks the thread it runs in.
 * @throws BadBackup where `free` bytes are too few, and what the file system throws.
 */
export async function writeBackup(
  { data, place, passphrase, now }: BackupAsked,
  free = freeIn(data),
): Promise<{ name: string; manifest: Manifest }> {
  const path = join(data, DATABASE);
  const wanted = TIMES_ITSELF * statSync(path).size + SPARE;
  if (free < wanted)
    throw new BadBackup(
      `There is too little room beside the database: ${megabytes(wanted)} are needed, ${megabytes(free)} are free. Nothing was written, so that the desk has what is left.`,
    );
  // Nobody else on the machine is to read it.
  mkdirSync(place, { recursive: true, mode: 0o700 });
  for (const folder of [data, place]) clearLeft(folder);
  const key = passphrase === null ? null : keyOf(passphrase, saltOf(place));
  const name = nameAt(now);
  const part = join(place, `${name}${PART}`);
  mkdirSync(part);
  // In the data folder, where everything lies open anyway: the place may be another machine’s.
  const snapshot = join(data, SNAPSHOT);
  const counts = await snapshotOf(path, snapshot);
  const { sum, plainSum, bytes } = await writeSealed(createReadStream(snapshot), join(part, DESK), key);
  rmSync(snapshot);
  const pool = poolOf(place, key !== null);
  mkdirSync(pool, { recursive: true });
  const files: Manifest["files"] = [];
  for (const id of counts.files) {
    const from = join(data, "files", id.slice(0, 2), id);
    // Taken out since: the database no longer shows it either.
    if (!existsSync(from)) continue;
    const own = fileName(id, key);
    files.push({ name: own, sum: await pooled(from, join(pool, own), key) });
  }
  const keyFile = join(data, KEY_FILE);
  const withKey = key !== null && existsSync(keyFile);
  if (withKey) await writeSealed(Readable.from([readFileSync(keyFile)]), join(part, KEY), key);
  const manifest: Manifest = {
    format: 1,
    at: now,
    sealed: key !== null,
    leads: counts.leads,
    events: counts.events,
    sum,
    plainSum,
    bytes,
    files,
    withKey,
  };
  const text = JSON.stringify(manifest);
  writeWhole(join(part, MANIFEST), Buffer.from(`${text}\n${sumOfText(text)}\n`));
  rmSync(join(place, name), { recursive: true, force: true });
  renameSync(part, join(place, name));
  return { name, manifest };
}

/** A copy of a database that is being written to, as it was at one moment, and what it holds. */
async function snapshotOf(
  from: string,
  to: string,
): Promise<{ leads: number; events: number; files: string[] }> {
  const source = new Database(from, { readonly: true });
  // In one step: a copy in many would begin again with each write of the desk.
  await source.backup(to, { progress: () => ALL_PAGES });
  source.close();
  const copy = new Database(to);
  copy.pragma("journal_mode = DELETE");
  const count = (table: string) =>
    (copy.prepare(`SELECT count(*) AS n FROM ${table}`).get() as { n: number }).n;
  const files = (copy.prepare("SELECT id FROM files ORDER BY id").all() as { id: string }[]).map((f) => f.id);
  const counts = { leads: count("leads"), events: count("events"), files };
  copy.close();
  return counts;
}

/** Put a file into the pool, once; gives the sum of what lies there. */
async function pooled(from: string, to: string, key: Buffer | null): Promise<string> {
  if (!existsSync(to)) {
    await writeSealed(createReadStream(from), `${to}${PART}`, key);
    renameSync(`${to}${PART}`, to);
  }
  return sumOf(to);
}

const sumOfText = (text: string): string => createHash("sha256").update(text).digest("hex");

/** The SHA-256 of all that comes. */
export async function sumIn(from: Readable): Promise<string> {
  const hash = createHash("sha256");
  for await (const chunk of from) hash.update(chunk as Buffer);
  return hash.digest("hex");
}

const sumOf = (path: string): Promise<string> => sumIn(createReadStream(path));

/** The backups in a place, the newest first; what can't be read as one is left out. */
export function backupsIn(place: string): { name: string; manifest: Manifest }[] {
  if (!existsSync(place)) return [];
  return readdirSync(place)
    .filter((name) => NAME.test(name))
    .flatMap((name) => {
      const manifest = manifestOf(join(place, name));
      return manifest ? [{ name, manifest }] : [];
    })
    .sort((a, b) => b.manifest.at - a.manifest.at);
}

function manifestOf(folder: string): Manifest | null {
  const path = join(folder, MANIFEST);
  return existsSync(path) ? readManifest(readFileSync(path, "utf8")) : null;
}

/** A manifest as it is written; null where it is damaged. */
export function readManifest(written: string): Manifest | null {
  try {
    const [text = "", sum] = written.split("\n");
    return sum === sumOfText(text) ? Manifest.parse(JSON.parse(text)) : null;
  } catch {
    return null;
  }
}

/** What a check or a restore found. */
export interface Found {
  readonly leads: number;
  readonly events: number;
  readonly files: number;
  /** Leads that were refolded and compared. */
  readonly refolded: number;
}

/**
 * Put a backup into an empty folder: its database, its files, its key. Everything is compared with its sums, the database is checked,
 * and some of its leads are refolded.
 * @throws BadBackup with what is wrong, in words; then the folder is as it was.
 */
export async function restoreBackup(
  place: string,
  name: string,
  into: string,
  passphrase: string | null,
): Promise<Found> {
  if (existsSync(into) && readdirSync(into).length > 0)
    throw new BadBackup(`${into} is not empty. Give a folder that is, or one that does not exist yet.`);
  const folder = join(place, name);
  const manifest = NAME.test(name) ? manifestOf(folder) : null;
  if (!manifest) throw new BadBackup(`${folder} is no backup, or its ${MANIFEST} is damaged.`);
  if (manifest.sealed && passphrase === null) throw new BadBackup("It is sealed: give its passphrase.");
  const key = manifest.sealed ? keyOf(passphrase!, saltOf(place)) : null;
  // Aside, and moved once it is whole: what a killed one left is no desk, and is taken away by the next.
  const aside = `${into}${PART}`;
  rmSync(aside, { recursive: true, force: true });
  try {
    mkdirSync(aside, { recursive: true });
    if ((await sumOf(join(folder, DESK))) !== manifest.sum)
      throw new BadBackup("The desk's file is damaged.");
    const path = join(aside, DATABASE);
    await pipeline(readSealed(join(folder, DESK), key), createWriteStream(path));
    if ((await sumOf(path)) !== manifest.plainSum) throw new BadBackup("The database in it is damaged.");
    for (const file of manifest.files) await putFile(poolOf(place, manifest.sealed), file, aside, key);
    if (manifest.withKey) writeWhole(join(aside, KEY_FILE), await buffer(readSealed(join(folder, KEY), key)));
    const refolded = await refold(path, manifest);
    if (existsSync(into)) rmdirSync(into);
    renameSync(aside, into);
    return { leads: manifest.leads, events: manifest.events, files: manifest.files.length, refolded };
  } catch (error) {
    rmSync(aside, { recursive: true, force: true });
    if (error instanceof BadBackup) throw error;
    if ((error as NodeJS.ErrnoException).code === "ENOENT")
      throw new BadBackup(`A part of it is missing: ${(error as NodeJS.ErrnoException).path}.`, {
        cause: error,
      });
    throw error;
  }
}

/** A file as it was, under the SHA-256 of what is in it. */
async function putFile(
  pool: string,
  { name, sum }: Manifest["files"][number],
  into: string,
  key: Buffer | null,
): Promise<void> {
  const from = join(pool, name);
  if ((await sumOf(from)) !== sum) throw new BadBackup(`The file ${name} is damaged.`);
  const bytes = await buffer(readSealed(from, key));
  const id = createHash("sha256").update(bytes).digest("hex");
  if (fileName(id, key) !== name) throw new BadBackup(`The file ${name} is another one.`);
  mkdirSync(join(into, "files", id.slice(0, 2)), { recursive: true });
  writeWhole(join(into, "files", id.slice(0, 2), id), bytes);
}

/** Whether the database is whole, and what it says is what happened. Gives how many leads were refolded. */
async function refold(path: string, { leads }: Manifest): Promise<number> {
  const sql = await Sql.open(path);
  try {
    const told = verify(sql, SAMPLE);
    if (told.faults.length > 0)
      throw new BadBackup(`Its leads are not what happened to them: ${told.faults[0]}`);
    return Math.min(leads, told.leads);
  } finally {
    sql.close();
  }
}

/**
 * Read a backup again as one would who needs it: restored aside in the data folder, checked, and taken away.
 * @throws like {@link restoreBackup}.
 */
export async function checkBackup({ data, place, passphrase }: BackupAsked, name: string): Promise<Found> {
  const aside = join(data, CHECK);
  try {
    return await restoreBackup(place, name, aside, passphrase);
  } finally {
    rmSync(aside, { recursive: true, force: true });
  }
}

/** The backups of a place that its pattern keeps no more. */
export function namesBeyond(place: string, { keep, zone }: { keep: KeepPattern; zone: string }): string[] {
  const all = backupsIn(place);
  const kept = toKeep(
    all.map((b) => b.manifest.at),
    keep,
    zone,
  );
  return all.filter((b) => !kept.has(b.manifest.at)).map((b) => b.name);
}

/** Take a backup away, and of the files those that no other one has. */
export function dropBackups(place: string, names: readonly string[]): void {
  for (const name of names) if (NAME.test(name)) rmSync(join(place, name), { recursive: true, force: true });
  for (const sealed of [false, true]) {
    const pool = poolOf(place, sealed);
    if (!existsSync(pool)) continue;
    const wanted = new Set(
      backupsIn(place).flatMap(({ manifest }) =>
        manifest.sealed === sealed ? manifest.files.map((f) => f.name) : [],
      ),
    );
    for (const name of readdirSync(pool)) if (!wanted.has(name)) rmSync(join(pool, name), { force: true });
  }
}
