import { parentPort, workerData } from "node:worker_threads";
import { Sql } from "../db/sql.ts";
import type { Question } from "./questions.ts";
import { Teller } from "./teller.ts";

/** How often it looks whether something has happened (ms), so that a question finds little left to be taken in. */
const NAP = 2_000;

const port = parentPort!;
// Accounts are made again from the events, so what a power cut takes is only told again.
const sql = await Sql.open((workerData as { path: string }).path, { durable: "in time", cacheMb: 32 });
const teller = new Teller(sql);

/** A while at a time, so that a question need not wait until all of it is taken in elsewhere. */
function follow(): void {
  let isLeft = false;
  try {
    isLeft = teller.follow();
  } catch (error) {
    port.postMessage({ trouble: error instanceof Error ? error.message : String(error) });
  }
  setTimeout(follow, isLeft ? 0 : NAP);
}
follow();

port.on("message", ({ id, question }: { id: number; question: Question }) => {
  try {
    port.postMessage({ id, answer: teller.tell(question) });
  } catch (error) {
    port.postMessage({ id, error: error instanceof Error ? error.message : String(error) });
  }
});
