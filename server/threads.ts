import { existsSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { Worker, type WorkerOptions } from "node:worker_threads";

/** What is worked out beside the desk, each in a file of its own. */
export type ThreadName = "import" | "playback" | "figures" | "lab" | "backup" | "payload";

const here = dirname(fileURLToPath(import.meta.url));
/** They lie at the top of what was built; the desk's own parts lie in its `web/server`, and those it shares with pages in `chunks` there. */
const top = here.replace(/[\\/]web[\\/]server([\\/]chunks)?$/, "");

const fileOf = (name: ThreadName): string => join(top, `${name}-worker.mjs`);

/** Whether there is a thread for this: a desk that was not built has none. Never throws. */
export const hasThread = (name: ThreadName): boolean => existsSync(fileOf(name));

/** Start a thread. Never throws: where there is none, it fails as threads do, by its `error` event. */
export const startThread = (name: ThreadName, options: WorkerOptions = {}): Worker =>
  new Worker(fileOf(name), options);
