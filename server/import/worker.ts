import { parentPort, workerData } from "node:worker_threads";
import { type LoadJob, loadRows } from "./loader.ts";
import { type RowsOf, readRows } from "./read-rows.ts";
import { slimRow } from "./slim-row.ts";

/** What the worker is asked to do: hand over rows, or load a whole list. */
export type Asked =
  | { readonly read: RowsOf }
  /** Only who stands in each row: enough to go through a file. */
  | { readonly check: RowsOf }
  | { readonly load: LoadJob };

async function* slimRows(of: RowsOf) {
  for await (const batch of readRows(of)) yield batch.map(slimRow);
}

/** Hand over the next batch whenever it is asked for. */
function serve(batches: AsyncGenerator<unknown>): void {
  port.on("message", () => {
    batches.next().then((next) => port.postMessage({ batch: next.done ? null : next.value }), wrong);
  });
}

const port = parentPort!;
const asked = workerData as Asked;
const wrong = (error: unknown) =>
  port.postMessage({ error: error instanceof Error ? error.message : String(error) });

if ("read" in asked) serve(readRows(asked.read));
else if ("check" in asked) serve(slimRows(asked.check));
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
