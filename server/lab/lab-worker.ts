import { parentPort, workerData } from "node:worker_threads";
import { type LabJob, runShare } from "./runs.ts";

const port = parentPort!;
runShare(workerData as LabJob, (told) => port.postMessage({ told })).catch((error: unknown) =>
  port.postMessage({ error: error instanceof Error ? error.message : String(error) }),
);
