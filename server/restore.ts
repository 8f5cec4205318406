import { rmSync } from "node:fs";
import { basename, dirname, resolve } from "node:path";
import { parseArgs } from "node:util";
import { readBucketAddress } from "../core/backup/bucket-address.ts";
import { fetchBack } from "./backup/away.ts";
import { type Found, restoreBackup } from "./backup/backup.ts";
import { Bucket } from "./backup/bucket.ts";
import { rewind } from "./backup/rewind.ts";
import { readConfig } from "./config.ts";
import { DATABASE } from "./db/folder.ts";
import { Sql } from "./db/sql.ts";

/**
 * `npm run restore -- --from BACKUP --data DIR`: put a backup into an empty folder, check it, and say in words what it holds; with
 * `--at TIME` as it was at that moment.
 * BACKUP is a folder, or an address in a bucket whose key stands in KITEBELL_S3_KEY and KITEBELL_S3_SECRET.
 * The passphrase of a sealed one stands in KITEBELL_PASSPHRASE, where no list of processes shows it.
 */
async function main(): Promise<void> {
  const { values } = parseArgs({
    options: { from: { type: "string" }, data: { type: "string" }, at: { type: "string" } },
  });
  if (!values.from)
    throw new Error(
      "Say which backup: npm run restore -- --from data/backups/desk-20260304-023000Z --data new-folder",
    );
  if (!values.data) throw new Error("Say where to: --data and a folder that is empty, or not there yet.");
  const at = values.at === undefined ? null : Date.parse(values.at);
  if (Number.isNaN(at))
    throw new Error(`--at must be a time such as 2026-03-04T14:05:00-07:00, not “${values.at}”.`);
  const { data } = readConfig(process.env, ["--data", values.data]);
  const passphrase = process.env.KITEBELL_PASSPHRASE ?? null;
  const found = /^https?:/.test(values.from)
    ? await fromBucket(values.from, data, passphrase)
    : await restoreBackup(dirname(resolve(values.from)), basename(values.from), data, passphrase);
  const rewound = at === null ? null : await rewind(`${data}/${DATABASE}`, at);
  for (const line of await report(data, found)) console.log(line);
  if (at !== null && rewound) {
    const { gone, changed, events } = rewound;
    console.log(
      `As it was at ${new Date(at).toISOString()}: ${events.toLocaleString("en")} events were taken back, ${gone.toLocaleString("en")} leads that came later with them; ${changed.toLocaleString("en")} leads are as they were.`,
    );
  }
}

/** Fetch a backup beside the folder it is to be put into, restore it from there, and take what was fetched away again. */
async function fromBucket(from: string, data: string, passphrase: string | null): Promise<Found> {
  const { KITEBELL_S3_KEY: keyId, KITEBELL_S3_SECRET: secret, KITEBELL_S3_REGION: region } = process.env;
  if (!keyId || !secret)
    throw new Error("Give the key of the bucket in KITEBELL_S3_KEY and its secret in KITEBELL_S3_SECRET.");
  const at = from.replace(/\/$/, "").lastIndexOf("/");
  const address = readBucketAddress(from.slice(0, at), region);
  if ("wrong" in address)
    throw new Error(`--from: ${address.wrong} Behind it stands the name of the backup.`);
  const name = from.slice(at + 1).replace(/\/$/, "");
  const fetched = `${data}.fetched`;
  const bucket = new Bucket(address, { keyId, secret });
  try {
    await fetchBack(bucket, name, fetched);
    return await restoreBackup(fetched, name, data, passphrase);
  } finally {
    bucket.close();
    rmSync(fetched, { recursive: true, force: true });
  }
}

async function report(data: string, { leads, events, files, refolded }: Found): Promise<string[]> {
  const sql = await Sql.open(`${data}/${DATABASE}`);
  const { q } = sql;
  const last = sql.get(q.selectFrom("events").select("at").orderBy("n", "desc").limit(1));
  const queued = sql.get(
    q
      .selectFrom("outbox")
      .select((eb) => eb.fn.countAll<number>().as("n"))
      .where("state", "=", "queued"),
  );
  sql.close();
  const said = (n: number, what: string) => `${n.toLocaleString("en")} ${what}`;
  return [
    `Restored into ${data}: ${said(leads, "leads")}, ${said(events, "events")}, ${said(files, "files")}.`,
    `The database is whole; ${said(refolded, "leads")} were refolded from their events, and every one is right.`,
    last
      ? `The last thing that happened in it: ${new Date(last.at).toISOString()}.`
      : "Nothing has happened in it yet.",
    Number(queued?.n ?? 0) === 0
      ? "No message waits to leave."
      : `${said(Number(queued!.n), "messages")} had not left when it was made: they leave when the desk starts, again where they have left since. Start it with KITEBELL_OUTBOX=hold to look first.`,
    `Start it with: npm start -- --data ${data}`,
  ];
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : String(error));
  process.exit(1);
});
