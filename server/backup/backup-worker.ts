import { mkdtempSync, rmSync } from "node:fs";
import { join } from "node:path";
import { parentPort, workerData } from "node:worker_threads";
import { type BackupAsked, restoreBackup, writeBackup } from "./backup.ts";

/** A backup is written, and then read again as one would who needs it: restored beside the others, checked, and taken away. */
async function run(asked: BackupAsked): Promise<object> {
  const { name, manifest } = await writeBackup(asked);
  const aside = mkdtempSync(join(asked.place, "check-"));
  try {
    const { refolded } = await restoreBackup(asked.place, name, aside, asked.passphrase);
    return { name, bytes: manifest.bytes, leads: manifest.leads, refolded };
  } finally {
    rmSync(aside, { recursive: true, force: true });
  }
}

const port = parentPort!;
run(workerData as BackupAsked).then(
  (done) => port.postMessage({ done }),
  (error: unknown) => port.postMessage({ error: error instanceof Error ? error.message : String(error) }),
);
