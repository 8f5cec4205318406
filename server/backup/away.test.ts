import { createHash } from "node:crypto";
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { readBucketAddress } from "../../core/backup/bucket-address.ts";
import { type StandinBucket, signatureOf, startBucket } from "../../standins/bucket.ts";
import { DATABASE } from "../db/folder.ts";
import { Sql } from "../db/sql.ts";
import { copyAway, fetchBack, tryBucket } from "./away.ts";
import { dropBackups, nameAt, restoreBackup, writeBackup } from "./backup.ts";
import { Bucket } from "./bucket.ts";

const NOW = Date.parse("2026-03-04T09:30:00Z");
const DAY = 86_400_000;
const PASSPHRASE = "correct horse battery";
const KEEPS = { keep: { daily: 3, weekly: 0, monthly: 0 }, zone: "America/Denver", prune: true };

let root: string;
let far: StandinBucket;
let bucket: Bucket;
const place = () => join(root, "backups");
const at = (url: string, keyId = "rehearsal", secret = "rehearsal-secret") => {
  const address = readBucketAddress(url);
  if ("wrong" in address) throw new Error(address.wrong);
  return new Bucket(address, { keyId, secret });
};
beforeEach(async () => {
  root = mkdtempSync(join(tmpdir(), "kite-bell-away-"));
  mkdirSync(join(root, "data", "files"), { recursive: true });
  (await Sql.open(join(root, "data", DATABASE))).close();
  far = await startBucket();
  bucket = at(`${far.url}/tarnholt/desk one`);
});
afterEach(async () => {
  bucket.close();
  await far.close();
  rmSync(root, { recursive: true, force: true });
});

const idOf = (bytes: Buffer) => createHash("sha256").update(bytes).digest("hex");
/** A file that came with a message, as the desk keeps it. */
async function keepFile(bytes: Buffer): Promise<void> {
  const id = idOf(bytes);
  const sql = await Sql.open(join(root, "data", DATABASE));
  sql.run(
    sql.q.insertInto("files").values({ id, type: "text/plain", size: bytes.length, at: NOW, by: null }),
  );
  sql.close();
  mkdirSync(join(root, "data", "files", id.slice(0, 2)), { recursive: true });
  writeFileSync(join(root, "data", "files", id.slice(0, 2), id), bytes);
}
const back = (night: number, passphrase: string | null = PASSPHRASE) =>
  writeBackup({ data: join(root, "data"), place: place(), passphrase, now: NOW + night * DAY });
const nameOf = (night: number) => nameAt(NOW + night * DAY);
/** Names of backups in the bucket. */
const inBucket = () =>
  [...far.objects.keys()]
    .flatMap((key) => /desk one\/(desk-\w+-\w+)\/backup\.json$/.exec(key)?.[1] ?? [])
    .sort();

describe("a copy in a bucket", () => {
  it("is whole, brings the desk back on a machine that has nothing else, and tells nobody anything without the passphrase", async () => {
    const plan = Buffer.from("A plan of the deck");
    await keepFile(plan);
    await back(0);
    expect(await copyAway(place(), bucket, KEEPS)).toEqual([nameOf(0)]);
    expect([...far.objects.values()].some((o) => o.includes("SQLite") || o.includes("A plan"))).toBe(false);
    const fetched = join(root, "elsewhere");
    await fetchBack(bucket, nameOf(0), fetched);
    // As it lay in its own place, to the byte.
    for (const file of readdirSync(fetched, { recursive: true, withFileTypes: true }).filter((f) =>
      f.isFile(),
    )) {
      const path = join(file.parentPath, file.name);
      expect(readFileSync(path).equals(readFileSync(path.replace(fetched, place())))).toBe(true);
    }
    await expect(
      restoreBackup(fetched, nameOf(0), join(root, "again"), "another passphrase"),
    ).rejects.toThrow();
    const found = await restoreBackup(fetched, nameOf(0), join(root, "again"), PASSPHRASE);
    expect(found.files).toBe(1);
    const kept = join(root, "again", "files", idOf(plan).slice(0, 2), idOf(plan));
    expect(readFileSync(kept)).toEqual(plan);
  });

  it("of one that was missed comes with the next, and what was brought is not brought again", async () => {
    await keepFile(Buffer.from("In both of them"));
    await back(0);
    far.fault = "down";
    await expect(copyAway(place(), bucket, KEEPS)).rejects.toThrow(/did not let us list what is there/);
    far.fault = "none";
    await back(1);
    expect(await copyAway(place(), bucket, KEEPS)).toEqual([nameOf(0), nameOf(1)]);
    expect(far.asked.filter((call) => /^PUT .*files-sealed/.test(call))).toHaveLength(1);
    far.asked.length = 0;
    expect(await copyAway(place(), bucket, KEEPS)).toEqual([]);
    expect(far.asked.filter((call) => call.startsWith("PUT"))).toEqual([]);
  });

  it("is kept by the pattern, reckoned over what is there, with the files that are still wanted", async () => {
    await keepFile(Buffer.from("old"));
    await back(0);
    await copyAway(place(), bucket, KEEPS);
    const sql = await Sql.open(join(root, "data", DATABASE));
    sql.run(sql.q.deleteFrom("files"));
    sql.close();
    await keepFile(Buffer.from("new"));
    for (let night = 1; night <= 5; night++) {
      await back(night);
      await copyAway(place(), bucket, { ...KEEPS, prune: night !== 4 });
      if (night === 4) expect(inBucket()).toHaveLength(4);
    }
    expect(inBucket()).toEqual([3, 4, 5].map(nameOf));
    expect([...far.objects.keys()].filter((k) => k.includes("files-sealed"))).toHaveLength(1);
    expect([...far.objects.keys()].filter((k) => k.includes(nameOf(0)))).toEqual([]);
    // What is taken away here stays there.
    dropBackups(place(), [1, 2, 3, 4, 5].map(nameOf));
    await back(6);
    await copyAway(place(), bucket, KEEPS);
    expect(inBucket()).toEqual([4, 5, 6].map(nameOf));
  });

  it("never overwrites another desk's: its salt would be lost, and with it all that lies there", async () => {
    await back(0);
    await copyAway(place(), bucket, KEEPS);
    const before = new Map(far.objects);
    rmSync(place(), { recursive: true });
    await back(1);
    await expect(copyAway(place(), bucket, KEEPS)).rejects.toThrow(
      "Backups of another desk lie in this folder",
    );
    expect(far.objects).toEqual(before);
  });

  it("that is not what was sent is noticed and taken away; one that is not whole is none", async () => {
    await back(0);
    far.fault = "flips";
    await expect(copyAway(place(), bucket, KEEPS)).rejects.toThrow("is not what was sent");
    expect([...far.objects.keys()].filter((k) => k.endsWith("desk.kbb"))).toEqual([]);
    far.fault = "full";
    await expect(copyAway(place(), bucket, KEEPS)).rejects.toThrow(/did not let us write .*: NoRoom/);
    expect(inBucket()).toEqual([]);
    await expect(fetchBack(bucket, nameOf(0), join(root, "elsewhere"))).rejects.toThrow(
      "did not let us read",
    );
    far.fault = "none";
    expect(await copyAway(place(), bucket, KEEPS)).toEqual([nameOf(0)]);
  });

  it("is made of sealed ones alone", async () => {
    await back(0, null);
    expect(await copyAway(place(), bucket, KEEPS)).toEqual([]);
    expect(far.asked).toEqual([]);
  });

  it("of a large one goes in parts, and comes back the same", async () => {
    const path = join(root, "large");
    const bytes = Buffer.alloc(20 * 2 ** 20, 7);
    for (let i = 0; i < bytes.length; i += 4099) bytes[i] = i % 251;
    writeFileSync(path, bytes);
    await bucket.put("large", path);
    expect(far.asked.filter((call) => call.startsWith("PUT")).length).toBeGreaterThan(1);
    expect(far.objects.get("tarnholt/desk one/large")!.equals(bytes)).toBe(true);
  });
});

describe("a bucket is tried before it is used", () => {
  it("and says what is wrong: the secret, the key, the address", async () => {
    await tryBucket(bucket, root);
    expect([...far.objects.keys()]).toEqual([]);
    await expect(tryBucket(at(`${far.url}/tarnholt`, "rehearsal", "wrong"), root)).rejects.toThrow(
      "SignatureDoesNotMatch",
    );
    await expect(tryBucket(at(`${far.url}/tarnholt`, "nobody"), root)).rejects.toThrow(
      "SignatureDoesNotMatch",
    );
    await expect(tryBucket(at("http://127.0.0.1:1/tarnholt"), root)).rejects.toThrow("ECONNREFUSED");
  });
});

it("signatures are those of the published example", () => {
  // The example of the protocol's own guide, “GET Object” (value from memory): a bucket of examples, May 2013, a range of ten bytes.
  const empty = "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855";
  expect(
    signatureOf("wJalrXUtnFEMI/K7MDENG/bPxRfiCYEXAMPLEKEY", {
      method: "GET",
      path: "/test.txt",
      query: new URLSearchParams(),
      headers: {
        host: "examplebucket.s3.amazonaws.com",
        range: "bytes=0-9",
        "x-amz-content-sha256": empty,
        "x-amz-date": "20130524T000000Z",
      },
      signed: ["host", "range", "x-amz-content-sha256", "x-amz-date"],
      bodySum: empty,
      scope: "20130524/us-east-1/s3/aws4_request",
      at: "20130524T000000Z",
    }),
  ).toBe("f0e8bdb87c964420e857bd35b5d6ed310bd44f0170aba48dd91039c6036bdb41");
});
