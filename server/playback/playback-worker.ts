import { parentPort, workerData } from "node:worker_threads";
import { runPlayback } from "./record.ts";

const port = parentPort!;
runPlayback(workerData, (done, total) => port.postMessage({ done, total })).then(
  (result) => port.postMessage({ result }),
  (error: unknown) => port.postMessage({ error: error instanceof Error ? error.message : String(error) }),
);
