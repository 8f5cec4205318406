import type { Worker } from "node:worker_threads";
import type { Setup } from "../../core/policy/setup.ts";
import type { Span } from "../../core/report/figures/span.ts";
import type { Engine } from "../engine/engine.ts";
import { hasThread, startThread } from "../threads.ts";
import type { Answers, Question, QuestionKind, Questions } from "./questions.ts";
import { Teller } from "./teller.ts";

/** So many questions may wait: more are turned away. */
const MOST_WAITING = 50;
/** Figures hang on the time as well; within a minute they are the same (ms). */
const FRESH = 60_000;

type Told = { id: number; answer?: Answers[QuestionKind]; error?: string } | { trouble: string };

/** Thrown where figures can't be told just now; says why in words. */
export class NoFigures extends Error {}

/**
 * The figures over the record. They are told in a thread with a connection of its own, so that the desk goes on meanwhile; a desk
 * in memory, which no thread can see, tells them itself.
 */
export class Figures {
  readonly #desk: Engine;
  readonly #waiting = new Map<number, { done: (answer: never) => void; failed: (error: Error) => void }>();
  #worker: Worker | null = null;
  #own: Teller | null = null;
  #count = 0;
  #setup: Setup | null = null;
  #setupN = 0;
  #stopped = false;

  constructor(desk: Engine) {
    this.#desk = desk;
  }

  /** Keep up with what happens from now on. */
  start(): void {
    if (this.#isApart()) this.#worker ??= this.#begin();
  }

  /**
   * The answer to a question, as things stand now.
   * @throws NoFigures (as a rejection) when too many wait, or the thread has ended.
   */
  ask<K extends QuestionKind>(kind: K, asked: Omit<Questions[K], "now">): Promise<Answers[K]> {
    const now = Math.floor(this.#desk.clock.now() / FRESH) * FRESH;
    const { setup } = this.#desk;
    if (setup !== this.#setup) {
      this.#setup = setup;
      this.#setupN++;
    }
    const question = { kind, asked: { ...asked, now } as Span, setup, setupN: this.#setupN } as Question;
    if (!this.#isApart()) {
      this.#own ??= new Teller(this.#desk.sql);
      return Promise.resolve(this.#own.tell(question) as Answers[K]);
    }
    if (this.#stopped || this.#waiting.size >= MOST_WAITING)
      return Promise.reject(new NoFigures("Many figures are being worked out. Ask again in a moment."));
    this.#worker ??= this.#begin();
    const id = ++this.#count;
    return new Promise((done, failed) => {
      this.#waiting.set(id, { done, failed });
      this.#worker!.postMessage({ id, question });
    });
  }

  #isApart(): boolean {
    return this.#desk.sql.path !== ":memory:" && hasThread("figures");
  }

  #begin(): Worker {
    const worker = startThread("figures", { workerData: { path: this.#desk.sql.path } });
    worker.on("message", (told: Told) => {
      if ("trouble" in told) {
        this.#desk.log.error({ trouble: told.trouble }, "figures could not be kept up; it is tried again");
        return;
      }
      const waiting = this.#waiting.get(told.id);
      this.#waiting.delete(told.id);
      if (told.error !== undefined) {
        this.#desk.log.error({ error: told.error }, "a figure could not be told");
        waiting?.failed(new NoFigures("The figures could not be worked out. The log says why."));
      } else waiting?.done(told.answer as never);
    });
    const ended = () => {
      if (this.#worker !== worker) return;
      // The next question begins another.
      this.#worker = null;
      for (const { failed } of this.#waiting.values())
        failed(new NoFigures("Working out the figures was cut off. Ask again."));
      this.#waiting.clear();
    };
    worker.on("error", (error) => {
      this.#desk.log.error({ err: error }, "the thread of the figures has ended");
      ended();
    });
    worker.on("exit", ended);
    worker.unref();
    return worker;
  }

  async stop(): Promise<void> {
    this.#stopped = true;
    await this.#worker?.terminate();
  }
}
