import type { Worker } from "node:worker_threads";
import type { PlaybackResult } from "../../core/playback/tally.ts";
import type { MessageWay } from "../../core/vocabulary.ts";
import type { MakeId } from "../ids.ts";
import { startThread } from "../threads.ts";
import type { PlaybackJob } from "./record.ts";

export interface PlaybackRun {
  readonly id: string;
  readonly of: string;
  readonly job: Omit<PlaybackJob, "path" | "rules">;
  state: "running" | "done" | "failed" | "cancelled";
  /** Events read so far, and how many there are; 0 until they are counted. */
  done: number;
  total: number;
  result: PlaybackResult | null;
  error: string | null;
}

/** How many results are kept to look at: they can always be made again. */
const KEPT = 8;
const MOST_AT_ONCE = 2;

/** Playbacks that run or ran: each in a worker of its own, so that the desk goes on meanwhile. */
export class Playbacks {
  readonly #runs = new Map<string, PlaybackRun>();
  readonly #workers = new Map<string, Worker>();
  readonly #path: string;
  readonly #id: MakeId;
  readonly #moved: () => void;
  readonly #unset: () => readonly MessageWay[];

  constructor(path: string, id: MakeId, unset: () => readonly MessageWay[], moved: () => void) {
    this.#path = path;
    this.#unset = unset;
    this.#id = id;
    this.#moved = moved;
  }

  /** Begin one; null when as many run as may. `of` says what is played. */
  start(of: string, job: Omit<PlaybackJob, "path" | "unset">): PlaybackRun | null {
    if (this.#workers.size >= MOST_AT_ONCE) return null;
    const { rules: _, ...rest } = job;
    const run: PlaybackRun = {
      id: this.#id("play"),
      of,
      job: rest,
      state: "running",
      done: 0,
      total: 0,
      result: null,
      error: null,
    };
    this.#runs.set(run.id, run);
    for (const old of [...this.#runs.values()].filter((r) => r.state !== "running").slice(0, -KEPT))
      this.#runs.delete(old.id);
    const worker = startThread("playback", {
      workerData: { ...job, path: this.#path, unset: this.#unset() } satisfies PlaybackJob,
    });
    this.#workers.set(run.id, worker);
    worker.on(
      "message",
      (told: { done?: number; total?: number; result?: PlaybackResult; error?: string }) => {
        if (told.total !== undefined) Object.assign(run, { done: told.done, total: told.total });
        if (told.result) this.#end(run, { state: "done", result: told.result });
        if (told.error) this.#end(run, { state: "failed", error: told.error });
        this.#moved();
      },
    );
    worker.on("error", (error) => this.#end(run, { state: "failed", error: error.message }));
    worker.on("exit", () => this.#end(run, { state: "failed", error: "it ended before it was done" }));
    return run;
  }

  get(id: string): PlaybackRun | null {
    return this.#runs.get(id) ?? null;
  }

  cancel(id: string): PlaybackRun | null {
    const run = this.#runs.get(id);
    if (run) this.#end(run, { state: "cancelled" });
    return run ?? null;
  }

  stop(): void {
    for (const id of this.#workers.keys()) this.cancel(id);
  }

  /** Only the first end counts. */
  #end(run: PlaybackRun, end: Partial<PlaybackRun>): void {
    if (run.state !== "running") return;
    Object.assign(run, end);
    void this.#workers.get(run.id)?.terminate();
    this.#workers.delete(run.id);
    this.#moved();
  }
}
