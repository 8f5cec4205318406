import {
  createWriteStream,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from "node:fs";
import { join } from "node:path";
import { buffer } from "node:stream/consumers";
import { pipeline } from "node:stream/promises";
import { type KeepPattern, toKeep } from "../../core/backup/keep.ts";
import {
  backupsIn,
  DESK,
  KEY,
  MANIFEST,
  type Manifest,
  NAME,
  poolOf,
  readManifest,
  SALT,
  sumIn,
  timeOf,
} from "./backup.ts";
import type { Bucket } from "./bucket.ts";
import { BadBackup } from "./sealed-file.ts";

/** Where files that all backups share lie, in a place and in a bucket. */
const POOL = "files-sealed";

/** The backups that are whole in a bucket: the manifest comes last. */
const wholeIn = (found: ReadonlyMap<string, number>): string[] =>
  [...found.keys()].flatMap((key) => {
    const [name = "", part] = key.split("/");
    return part === MANIFEST && NAME.test(name) ? [name] : [];
  });

/** What the pattern keeps, and by whose calendar; `prune`: whether what it keeps no more is taken away. */
export interface Keeping {
  readonly keep: KeepPattern;
  readonly zone: string;
  readonly prune: boolean;
}

/**
 * Bring the sealed backups of a place to a bucket that the pattern keeps and that are not there yet, and read each again. Under its manifest
 * one is whole. Gives the names that were brought.
 * @throws BadBackup in words.
 */
export async function copyAway(place: string, bucket: Bucket, keeping: Keeping): Promise<string[]> {
  const sealed = backupsIn(place).filter((b) => b.manifest.sealed);
  if (sealed.length === 0) return [];
  const found = await bucket.all();
  await sameSalt(place, bucket, found);
  const there = wholeIn(found);
  // Reckoned over both: what is taken away there is not brought again.
  const names = [...new Set([...there, ...sealed.map((b) => b.name)])];
  const kept = toKeep(names.map(timeOf), keeping.keep, keeping.zone);
  // The oldest first: where it ends half-way, what is there is a row without a gap.
  const missing = sealed.filter((b) => !there.includes(b.name) && kept.has(timeOf(b.name))).reverse();
  // Several have most files in common: each is brought once.
  const pooled = new Map(found);
  for (const { name, manifest } of missing) {
    for (const file of manifest.files) {
      const key = `${POOL}/${file.name}`;
      const path = join(poolOf(place, true), file.name);
      const { size } = statSync(path);
      if (pooled.get(key) === size) continue;
      await bucket.put(key, path);
      await compare(bucket, key, file.sum);
      pooled.set(key, size);
    }
    await bucket.put(`${name}/${DESK}`, join(place, name, DESK));
    await compare(bucket, `${name}/${DESK}`, manifest.sum);
    if (manifest.withKey) await bucket.put(`${name}/${KEY}`, join(place, name, KEY));
    await bucket.put(`${name}/${MANIFEST}`, join(place, name, MANIFEST));
  }
  if (keeping.prune)
    await prune(
      bucket,
      names.filter((name) => !kept.has(timeOf(name))),
    );
  return missing.map((b) => b.name);
}

/** A passphrase opens backups together with the salt beside them: two desks in one folder would lose each other's. */
async function sameSalt(place: string, bucket: Bucket, found: ReadonlyMap<string, number>): Promise<void> {
  const own = join(place, SALT);
  if (!found.has(SALT)) return bucket.put(SALT, own);
  const theirs = await buffer(await bucket.read(SALT));
  if (!theirs.equals(readFileSync(own)))
    throw new BadBackup(
      "Backups of another desk lie in this folder of the bucket. Give this desk a folder of its own.",
    );
}

async function compare(bucket: Bucket, key: string, sum: string): Promise<void> {
  if ((await sumIn(await bucket.read(key))) === sum) return;
  await bucket.drop(key);
  throw new BadBackup(`What lies in the bucket as ${key} is not what was sent. It was taken away again.`);
}

/** Take backups away from a bucket, and the files no other one there has. */
async function prune(bucket: Bucket, names: readonly string[]): Promise<void> {
  const gone = new Set(names);
  const found = await bucket.all();
  const wanted = new Set<string>();
  for (const name of wholeIn(found).filter((n) => !gone.has(n)))
    for (const file of (await manifestIn(bucket, name)).files) wanted.add(`${POOL}/${file.name}`);
  // The manifest first: what is left of one that is half gone is no backup.
  for (const name of gone) if (found.has(`${name}/${MANIFEST}`)) await bucket.drop(`${name}/${MANIFEST}`);
  for (const key of found.keys()) {
    const [name = ""] = key.split("/");
    const isOfGone = gone.has(name) && key !== `${name}/${MANIFEST}`;
    if (isOfGone || (name === POOL && !wanted.has(key))) await bucket.drop(key);
  }
}

async function manifestIn(bucket: Bucket, name: string): Promise<Manifest> {
  const manifest = readManifest((await buffer(await bucket.read(`${name}/${MANIFEST}`))).toString("utf8"));
  if (!manifest) throw new BadBackup(`${name} is no backup, or its ${MANIFEST} is damaged.`);
  return manifest;
}

/**
 * Fetch a backup from a bucket into a folder, as it lay in its place; from there it is restored like any other.
 * @throws BadBackup in words; what was fetched is checked when it is restored.
 */
export async function fetchBack(bucket: Bucket, name: string, place: string): Promise<void> {
  if (!NAME.test(name))
    throw new BadBackup(`“${name}” is no name of a backup: they are called desk-20260304-023000Z.`);
  const { files, withKey } = await manifestIn(bucket, name);
  const names = [SALT, `${name}/${MANIFEST}`, `${name}/${DESK}`, ...(withKey ? [`${name}/${KEY}`] : [])];
  mkdirSync(join(place, name), { recursive: true, mode: 0o700 });
  mkdirSync(poolOf(place, true), { recursive: true });
  for (const key of [...names, ...files.map((f) => `${POOL}/${f.name}`)])
    await pipeline(await bucket.read(key), createWriteStream(join(place, key)));
}

/** Write something small there, read it again, and take it away: whether all a backup needs is allowed. @throws BadBackup in words. */
export async function tryBucket(bucket: Bucket, folder: string): Promise<void> {
  const aside = mkdtempSync(join(folder, "bucket-try-"));
  try {
    const path = join(aside, "try");
    writeFileSync(path, "Kite Bell can write here.");
    await bucket.put("try", path);
    const said = (await buffer(await bucket.read("try"))).toString("utf8");
    await bucket.drop("try");
    await bucket.all();
    if (said !== readFileSync(path, "utf8"))
      throw new BadBackup("What was written into the bucket is not what is read from it.");
  } finally {
    rmSync(aside, { recursive: true, force: true });
  }
}
