import { availableParallelism } from "node:os";
import type { Worker } from "node:worker_threads";
import { changeSaid, setupWith } from "../../core/lab/changes.ts";
import type { Experiment } from "../../core/lab/experiment.ts";
import {
  type LabResult,
  type Side,
  type SideRun,
  type Stretch,
  tellExperiment,
} from "../../core/lab/result.ts";
import type { Setup } from "../../core/policy/setup.ts";
import { type Refused, refuse } from "../../core/refusal.ts";
import type { Engine } from "../engine/engine.ts";
import { startThread } from "../threads.ts";
import type { LabJob, LabTold } from "./runs.ts";

export type ExperimentState = "running" | "done" | "failed" | "cancelled";

/** What was tried, and how far it is. */
export interface KeptExperiment {
  readonly id: string;
  /** Epoch ms. */
  readonly at: number;
  readonly by: string;
  readonly name: string;
  readonly asked: Experiment;
  /** The changes of each side as sentences. */
  readonly said: Readonly<Record<Side, readonly string[]>>;
  readonly state: ExperimentState;
  readonly error: string | null;
  readonly result: KeptResult | null;
  /** Runs of both sides that are done; while it runs. */
  readonly done: number;
}

/** What it came to, what it took for granted, and the version of the rules that was live. */
export interface KeptResult extends LabResult {
  readonly assumes: readonly string[];
  readonly rulesVersion: number;
}

interface Running {
  readonly id: string;
  readonly asked: Experiment;
  readonly setups: Readonly<Record<Side, Setup>>;
  readonly runs: Record<Side, SideRun[]>;
  readonly came: number[];
  readonly workers: Worker[];
  stretch: Stretch;
  assumes: readonly string[];
  done: number;
  threadsDone: number;
}

/** So many experiments are kept; the oldest goes. */
const KEPT = 100;
/** Threads at most: a desk keeps the rest of the machine. */
const MOST_THREADS = 4;

/** What a thread may hold at most (MB): past that the experiment ends, and the desk goes on. */
export const MOST_MEMORY = 3_000;

const saidOf = (changes: Experiment["a"], setup: Setup) => changes.map((change) => changeSaid(change, setup));

/** Runs experiments in threads of their own, one at a time, and keeps what they came to. */
export class LabBench {
  readonly #desk: Engine;
  #running: Running | null = null;

  constructor(desk: Engine) {
    this.#desk = desk;
    const { sql } = desk;
    // What ran when the desk was stopped is over.
    sql.run(
      sql.q
        .updateTable("experiments")
        .set({ state: "failed", error: "the desk was stopped while it ran; run it again" })
        .where("state", "=", "running"),
    );
  }

  /** Begin one. Refused while another runs, and where a change can't be made. */
  start(name: string, asked: Experiment, by: string): { ok: true; id: string } | Refused {
    if (this.#desk.sql.path === ":memory:")
      return refuse("no-record", 409, "No record to learn from", "This desk keeps nothing on disk.");
    if (this.#running)
      return refuse(
        "one-runs-already",
        409,
        "One runs already",
        "Wait until the other experiment is done, or cancel it.",
      );
    const { setup, sql, clock, newId } = this.#desk;
    const [a, b] = [setupWith(setup, asked.a, "a"), setupWith(setup, asked.b, "b")];
    if (!a.ok) return a;
    if (!b.ok) return b;
    const id = newId("lab");
    const said = { a: saidOf(asked.a, setup), b: saidOf(asked.b, setup) };
    sql.run(
      sql.q.insertInto("experiments").values({
        id,
        at: clock.now(),
        by,
        name: name || said.b[0] || said.a[0] || "As it is live, by chance alone",
        askedJson: JSON.stringify(asked),
        saidJson: JSON.stringify(said),
        state: "running",
        resultJson: null,
        error: null,
      }),
    );
    this.#forgetOld();
    const of = Math.max(1, Math.min(MOST_THREADS, availableParallelism(), asked.runs));
    const job = { path: sql.path, setup, experiment: asked, now: clock.now() };
    const running: Running = {
      id,
      asked,
      setups: { a: a.setup, b: b.setup },
      runs: { a: [], b: [] },
      came: [],
      workers: [],
      stretch: asked,
      assumes: [],
      done: 0,
      threadsDone: 0,
    };
    this.#running = running;
    for (let nth = 0; nth < of; nth++) running.workers.push(this.#thread(running, { ...job, nth, of }));
    this.#moved();
    return { ok: true, id };
  }

  #thread(running: Running, job: LabJob): Worker {
    const worker = startThread("lab", {
      workerData: job,
      resourceLimits: { maxOldGenerationSizeMb: MOST_MEMORY },
    });
    worker.on("message", ({ told, error }: { told?: LabTold; error?: string }) => {
      if (error !== undefined) this.#end(running, "failed", error);
      else if (told) this.#hear(running, told);
    });
    worker.on("error", (error) => this.#end(running, "failed", error.message));
    worker.on("exit", (code) => {
      if (code !== 0) this.#end(running, "failed", "a thread of it ended before it was done");
    });
    return worker;
  }

  #hear(running: Running, told: LabTold): void {
    if (this.#running !== running) return;
    if (told.about === "begun") Object.assign(running, { stretch: told.stretch, assumes: told.assumes });
    else if (told.about === "run") {
      running.runs[told.side][told.i] = told.run;
      running.came[told.i] = told.came;
      running.done++;
      this.#moved();
    } else if (++running.threadsDone === running.workers.length) this.#end(running, "done");
  }

  /** Only the first end counts. */
  #end(running: Running, state: ExperimentState, error: string | null = null): void {
    if (this.#running !== running) return;
    this.#running = null;
    for (const worker of running.workers) void worker.terminate();
    const { sql, setup } = this.#desk;
    const result: KeptResult | null =
      state === "done"
        ? {
            ...tellExperiment(running.runs, running.setups, running.came, running.stretch),
            assumes: running.assumes,
            rulesVersion: setup.policies.routing.version,
          }
        : null;
    sql.run(
      sql.q
        .updateTable("experiments")
        .set({ state, error, resultJson: result && JSON.stringify(result) })
        .where("id", "=", running.id),
    );
    this.#moved();
  }

  #moved(): void {
    this.#desk.feed.publish({ n: 0, leadId: null, kinds: ["lab"] });
  }

  #forgetOld(): void {
    const { sql } = this.#desk;
    const old = sql.all(
      sql.q
        .selectFrom("experiments")
        .select("id")
        .orderBy("at", "desc")
        .orderBy("id", "desc")
        .offset(KEPT)
        .limit(1000),
    );
    for (const { id } of old) sql.run(sql.q.deleteFrom("experiments").where("id", "=", id));
  }

  /** All that are kept, the latest first, without what they came to. */
  all(): Omit<KeptExperiment, "result">[] {
    const { sql } = this.#desk;
    return sql
      .all(
        sql.q
          .selectFrom("experiments")
          .select(["id", "at", "by", "name", "askedJson", "saidJson", "state", "error"])
          .orderBy("at", "desc")
          .orderBy("id", "desc"),
      )
      .map((row) => this.#kept(row));
  }

  /** One of them, whole; null when it is gone. */
  get(id: string): KeptExperiment | null {
    const { sql } = this.#desk;
    const row = sql.get(sql.q.selectFrom("experiments").selectAll().where("id", "=", id));
    if (!row) return null;
    return { ...this.#kept(row), result: row.resultJson ? (JSON.parse(row.resultJson) as KeptResult) : null };
  }

  #kept(row: {
    readonly id: string;
    readonly at: number;
    readonly by: string;
    readonly name: string;
    readonly askedJson: string;
    readonly saidJson: string;
    readonly state: string;
    readonly error: string | null;
  }): Omit<KeptExperiment, "result"> {
    const { id, at, by, name, error } = row;
    const asked = JSON.parse(row.askedJson) as Experiment;
    const said = JSON.parse(row.saidJson) as KeptExperiment["said"];
    const state = row.state as ExperimentState;
    const runs = state === "done" ? asked.runs * 2 : 0;
    const done = this.#running?.id === id ? this.#running.done : runs;
    return { id, at, by, name, error, asked, said, state, done };
  }

  /** End one early; what it had come to is not kept. Nothing happens where it does not run. */
  cancel(id: string): void {
    if (this.#running?.id === id) this.#end(this.#running, "cancelled");
  }

  /** Take one out, ending it where it runs. */
  remove(id: string): void {
    this.cancel(id);
    const { sql } = this.#desk;
    sql.run(sql.q.deleteFrom("experiments").where("id", "=", id));
    this.#moved();
  }

  /** What runs ends with the desk, and says so when it is opened again. */
  stop(): void {
    const running = this.#running;
    this.#running = null;
    for (const worker of running?.workers ?? []) void worker.terminate();
  }
}
