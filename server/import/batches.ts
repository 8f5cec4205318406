import type { Worker } from "node:worker_threads";
import { startThread } from "../threads.ts";
import type { Undone, WorkerTask } from "./jobs.ts";

/** A worker needs little: rows are streamed, and their objects die young. Who makes the most of them has more room. */
const LIMITS = { maxOldGenerationSizeMb: 96, maxYoungGenerationSizeMb: 16 };
const ROOMY = { ...LIMITS, maxYoungGenerationSizeMb: 24 };

export function startWorker(asked: WorkerTask): Worker {
  return startThread("import", {
    workerData: asked,
    resourceLimits: "prepare" in asked ? ROOMY : LIMITS,
  });
}

/** What a worker says: a batch (null at the end), that it has come further, that it is done, or what went wrong. */
export interface Said<B> {
  readonly batch?: B | null;
  readonly moved?: boolean;
  readonly finished?: boolean;
  readonly undone?: Undone;
  readonly error?: string;
}

/** So many batches are made ahead of the one that is worked: whoever works them may have to wait for the disk. */
const AHEAD = 3;

/** The batches a worker hands over, the next ones made while one is worked. It begins at once. */
export function batchesOf<B>(asked: WorkerTask): AsyncGenerator<B> {
  const worker = startWorker(asked);
  const told: { resolve: (said: Said<B>) => void; reject: (error: unknown) => void }[] = [];
  worker.on("message", (said: Said<B>) => told.shift()?.resolve(said));
  worker.on("error", (error) => told.shift()?.reject(error));
  const next = () => {
    const coming = new Promise<Said<B>>((resolve, reject) => told.push({ resolve, reject }));
    coming.catch(() => {});
    worker.postMessage("next");
    return coming;
  };
  const coming = Array.from({ length: AHEAD }, next);
  return (async function* () {
    try {
      for (;;) {
        const { batch, error } = await coming.shift()!;
        if (error) throw new Error(error);
        if (!batch) return;
        coming.push(next());
        yield batch;
      }
    } finally {
      await worker.terminate();
    }
  })();
}
