import { parentPort, workerData } from "node:worker_threads";
import type { BucketAddress } from "../../core/backup/bucket-address.ts";
import { copyAway, type Keeping } from "./away.ts";
import { type BackupAsked, checkBackup, dropBackups, namesBeyond, writeBackup } from "./backup.ts";
import { Bucket, type BucketKey } from "./bucket.ts";

/** A backup that is to be made, which of those before it are kept, and where copies of it go besides. */
export interface WorkAsked extends BackupAsked {
  readonly keeping: Keeping;
  readonly away: { readonly address: BucketAddress; readonly key: BucketKey } | null;
}

/** How it went: what is wrong with the backup itself, and with its copy away. */
export interface WorkDone {
  readonly error: string | null;
  readonly awayError: string | null;
}

const said = (error: unknown) => (error instanceof Error ? error.message : String(error));

/** A backup is written, and then read again; what is kept no more goes; then it is copied away. */
async function run({ keeping, away, ...asked }: WorkAsked): Promise<WorkDone> {
  try {
    const { name } = await writeBackup(asked);
    await checkBackup(asked, name);
    if (keeping.prune) dropBackups(asked.place, namesBeyond(asked.place, keeping));
  } catch (error) {
    return { error: said(error), awayError: null };
  }
  if (!away) return { error: null, awayError: null };
  const bucket = new Bucket(away.address, away.key);
  try {
    await copyAway(asked.place, bucket, keeping);
    return { error: null, awayError: null };
  } catch (error) {
    return { error: null, awayError: said(error) };
  } finally {
    bucket.close();
  }
}

void run(workerData as WorkAsked).then((done) => parentPort!.postMessage(done));
