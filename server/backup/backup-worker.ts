import { parentPort, workerData } from "node:worker_threads";
import { type BackupAsked, checkBackup, writeBackup } from "./backup.ts";

/** A backup is written, and then read again. */
async function run(asked: BackupAsked): Promise<void> {
  const { name } = await writeBackup(asked);
  await checkBackup(asked, name);
}

const port = parentPort!;
run(workerData as BackupAsked).then(
  () => port.postMessage({}),
  (error: unknown) => port.postMessage({ error: error instanceof Error ? error.message : String(error) }),
);
