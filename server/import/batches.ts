import { existsSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { Worker } from "node:worker_threads";
import type { Asked } from "./worker.ts";

/** The built worker beside the built server; there is none when the sources are run as they are. */
export const workerFile = join(dirname(fileURLToPath(import.meta.url)), "import-worker.mjs");
export const hasWorker = () => existsSync(workerFile);

/** A worker needs little: rows are streamed, and their objects die young. */
const LIMITS = { maxOldGenerationSizeMb: 128, maxYoungGenerationSizeMb: 16 };

export function startWorker(asked: Asked): Worker {
  return new Worker(workerFile, { workerData: asked, resourceLimits: LIMITS });
}

/** What a worker says: a batch (null at the end), that it has come further, that it is done, or what went wrong. */
export interface Said<T> {
  readonly batch?: T[] | null;
  readonly moved?: boolean;
  readonly finished?: boolean;
  readonly error?: string;
}

/** The batches a worker hands over; the next one is made while this one is worked. */
export async function* batchesOf<T>(asked: Asked): AsyncGenerator<T[]> {
  const worker = startWorker(asked);
  const told: { resolve: (said: Said<T>) => void; reject: (error: unknown) => void }[] = [];
  worker.on("message", (said: Said<T>) => told.shift()?.resolve(said));
  worker.on("error", (error) => told.shift()?.reject(error));
  const next = () => {
    const coming = new Promise<Said<T>>((resolve, reject) => told.push({ resolve, reject }));
    coming.catch(() => {});
    worker.postMessage("next");
    return coming;
  };
  try {
    let coming = next();
    for (;;) {
      const { batch, error } = await coming;
      if (error) throw new Error(error);
      if (!batch) return;
      coming = next();
      yield batch;
    }
  } finally {
    await worker.terminate();
  }
}
