import { existsSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { Worker, type WorkerOptions } from "node:worker_threads";

/** What is worked out beside the desk, each in a file of its own. */
export type ThreadName = "import" | "playback" | "figures" | "lab" | "backup" | "payload";

const here = dirname(fileURLToPath(import.meta.url));
/** They lie at the top of what was built; the desk's own parts lie three folders below it. */
const TOPS = [here, join(here, "../../..")];

const fileOf = (name: ThreadName): string | undefined =>
  TOPS.map((top) => join(top, `${name}-worker.mjs`)).find((file) => existsSync(file));

/** Whether there is a thread for this: a desk that was not built has none. Never throws. */
export const hasThread = (name: ThreadName): boolean => fileOf(name) !== undefined;

/** Start a thread. @throws Error where there is none. */
export function startThread(name: ThreadName, options: WorkerOptions = {}): Worker {
  const file = fileOf(name);
  if (!file) throw new Error(`There is no thread for this (${name}): the desk was not built.`);
  return new Worker(file, options);
}
