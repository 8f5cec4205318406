import type { Worker } from "node:worker_threads";
import type { NeededAsked } from "../../core/lab/needed.ts";
import type { Stretch } from "../../core/lab/result.ts";
import { type Refused, refuse } from "../../core/refusal.ts";
import type { Engine } from "../engine/engine.ts";
import { startThread } from "../threads.ts";
import { MOST_MEMORY } from "./lab-bench.ts";
import type { NeededJob, NeededSoFar } from "./runs.ts";

/** What was asked last, and how far it is. */
export interface NeededRun extends NeededSoFar {
  readonly asked: NeededAsked & Stretch;
  readonly state: "running" | "done" | "failed";
  readonly error: string | null;
}

/** Finds out how many are needed on duty by running the desk with one, two, three …: in a thread, the last one asked for. */
export class NeededBench {
  readonly #desk: Engine;
  #worker: Worker | null = null;
  #last: NeededRun | null = null;

  constructor(desk: Engine) {
    this.#desk = desk;
  }

  /** How it stands; null before anybody has asked. */
  get last(): NeededRun | null {
    return this.#last;
  }

  /** Begin; what ran before ends. */
  start(asked: NeededRun["asked"]): { ok: true; run: NeededRun } | Refused {
    const { sql, setup, clock } = this.#desk;
    if (sql.path === ":memory:")
      return refuse("no-record", 409, "No record to learn from", "This desk keeps nothing on disk.");
    this.stop();
    const job: NeededJob = { path: sql.path, setup, asked, now: clock.now() };
    const worker = startThread("lab", {
      workerData: job,
      resourceLimits: { maxOldGenerationSizeMb: MOST_MEMORY },
    });
    this.#worker = worker;
    const run: NeededRun = {
      asked,
      state: "running",
      error: null,
      tried: 0,
      weeks: 0,
      hours: [],
      isDone: false,
    };
    this.#last = run;
    const put = (change: Partial<NeededRun>) => {
      // What is told by one that was replaced is nothing any more.
      if (this.#worker !== worker || !this.#last) return;
      this.#last = { ...this.#last, ...change };
      if (change.state) {
        this.#worker = null;
        void worker.terminate();
      }
      this.#desk.feed.publish({ n: 0, leadId: null, kinds: ["lab"] });
    };
    worker.on("message", ({ told, error }: { told?: NeededSoFar; error?: string }) => {
      if (told) put({ ...told, ...(told.isDone && { state: "done" as const }) });
      else put({ state: "failed", error: error ?? "it ended before it was done" });
    });
    worker.on("error", (error) => put({ state: "failed", error: error.message }));
    worker.on("exit", () => put({ state: "failed", error: "its thread ended before it was done" }));
    worker.unref();
    return { ok: true, run };
  }

  /** End what runs; what it had come to is forgotten. */
  stop(): void {
    const worker = this.#worker;
    this.#worker = null;
    if (worker) this.#last = null;
    void worker?.terminate();
  }
}
