import { parentPort, workerData } from "node:worker_threads";
import type { RowsOf, WorkerTask } from "./jobs.ts";
import { loadRows } from "./loader.ts";
import { prepareRows } from "./prepare.ts";
import { readRows } from "./read-rows.ts";
import { slimmer } from "./slim-row.ts";
import { undoBeside } from "./undo.ts";

async function* slimRows(of: RowsOf) {
  const slim = slimmer();
  for await (const batch of readRows(of)) yield batch.map(slim);
}

/** Hand over the next batch whenever it is asked for. */
function serve(batches: AsyncGenerator<unknown>): void {
  port.on("message", () => {
    batches.next().then((next) => port.postMessage({ batch: next.done ? null : next.value }), wrong);
  });
}

const port = parentPort!;
const asked = workerData as WorkerTask;
const wrong = (error: unknown) =>
  port.postMessage({ error: error instanceof Error ? error.message : String(error) });

if ("read" in asked) serve(readRows(asked.read));
else if ("check" in asked) serve(slimRows(asked.check));
else if ("prepare" in asked) serve(prepareRows(asked.prepare));
else if ("undo" in asked)
  undoBeside(asked.undo)
    .then((undone) => port.postMessage({ undone }), wrong)
    .finally(() => port.close());
else {
  let stopped = false;
  port.on("message", () => {
    stopped = true;
  });
  loadRows(
    asked.load,
    () => port.postMessage({ moved: true }),
    () => stopped,
  )
    .then(() => port.postMessage({ finished: !stopped }), wrong)
    .finally(() => port.close());
}
