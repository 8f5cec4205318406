import { parentPort, workerData } from "node:worker_threads";
import { type LabJob, type NeededJob, runNeeded, runShare } from "./runs.ts";

const port = parentPort!;
const tell = (told: unknown) => port.postMessage({ told });
const job = workerData as LabJob | NeededJob;
const work = "experiment" in job ? runShare(job, tell) : runNeeded(job, tell);
work.catch((error: unknown) =>
  port.postMessage({ error: error instanceof Error ? error.message : String(error) }),
);
