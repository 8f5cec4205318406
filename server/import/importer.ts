import { existsSync } from "node:fs";
import type { Logger } from "pino";
import type { Plan } from "../../core/desk/plan.ts";
import { decodeTable, headerKey, peekTable, writeTable } from "../../core/import/table.ts";
import type { Source } from "../../core/policy/source.ts";
import type { ImportRow } from "../db/schema.ts";
import { committer } from "../engine/commit.ts";
import type { Engine } from "../engine/engine.ts";
import type { Intake } from "../intake/intake.ts";
import { erasedPrints } from "../privacy/prints.ts";
import { hasThread } from "../threads.ts";
import { type Said, startWorker } from "./batches.ts";
import {
  breathe,
  checkRows,
  type ImportCheck,
  type ImportOptions,
  type ImportPreview,
  mappedSource,
  previewOf,
  rowBatches,
} from "./check.ts";
import type { LoadJob, RowsOf, Undone } from "./jobs.ts";
import { encodingOfFile, type ReadRow } from "./read-rows.ts";
import { type NotedRow, rowTaker } from "./take-row.ts";
import { undoRows } from "./undo.ts";

/** The desk's own thread is held no longer than this at a time (ms); between two slices everybody else gets a turn. */
const SLICE = 24;
/** How often a running import is told of (ms). */
const TELL = 400;

/** Loads spreadsheets in: previewed, in the background, a slice at a time, going on after a restart where they were. */
export class Importer {
  readonly #desk: Engine;
  readonly #intake: Intake;
  readonly #log: Logger;
  readonly #running = new Map<string, Promise<void>>();
  readonly #undoing = new Set<string>();
  readonly #stops = new Set<() => void>();
  #stopped = false;
  #told = 0;
  readonly #taker;

  constructor(desk: Engine, intake: Intake) {
    this.#desk = desk;
    this.#intake = intake;
    this.#log = desk.log;
    this.#taker = rowTaker(desk.sql, desk.looker, (plan) => desk.commitAll([plan]));
  }

  /** Keep a file and show how it would be read. */
  preview(bytes: Buffer, name: string): ImportPreview | { problem: string } {
    return previewOf(this.#desk, bytes, name);
  }

  /** Whether the file of a preview is still kept: one that was never loaded goes after a while. */
  has(fileId: string): boolean {
    const path = this.#desk.files.pathOf(fileId);
    return path !== null && existsSync(path);
  }

  #rowsOf(fileId: string, source: Source, options: ImportOptions, from: number): RowsOf {
    const { files, setup, sql, kept } = this.#desk;
    const path = files.pathOf(fileId);
    if (!path || !existsSync(path)) throw new Error("The file of this import is gone.");
    const encoding = encodingOfFile(path);
    const peek = files.read(fileId)!.bytes.subarray(0, 1 << 18);
    const { delimiter } = peekTable(decodeTable(peek, encoding));
    return {
      path,
      encoding,
      delimiter,
      source: mappedSource(source, options),
      policies: setup.policies,
      erased: options.takeErased ? null : erasedPrints(sql, kept),
      from,
    };
  }

  /** Go through the whole file without writing anything. */
  check(fileId: string, source: Source, options: ImportOptions): Promise<ImportCheck> {
    return checkRows(this.#rowsOf(fileId, source, options, 1), this.#desk.looker);
  }

  /** Begin an import. It goes on in the background; what `check` found is what it will do. */
  start(
    fileId: string,
    name: string,
    source: Source,
    options: ImportOptions,
    total: number,
    by: string,
  ): string {
    const { sql, clock } = this.#desk;
    const id = this.#desk.newId("imp");
    const row: ImportRow = {
      id,
      at: clock.now(),
      by,
      sourceId: source.id,
      name,
      fileId,
      optionsJson: JSON.stringify(options),
      state: "running",
      total,
      done: 0,
      made: 0,
      joined: 0,
      rejected: 0,
      indexed: 0,
      finishedAt: null,
      error: null,
    };
    const { headers } = peekTable(decodeTable(this.#desk.files.read(fileId)!.bytes.subarray(0, 1 << 18)));
    const remembered = { key: headerKey(headers), at: row.at, mappingJson: JSON.stringify(options.fields) };
    sql.transaction(() => {
      sql.run(sql.q.insertInto("imports").values(row));
      const remember = sql.q.insertInto("headerMappings").values(remembered);
      sql.run(remember.onConflict((c) => c.column("key").doUpdateSet(remembered)));
    });
    this.#go(id);
    return id;
  }

  /** Go on with what was running when the desk was switched off. */
  resume(): void {
    for (const { id, state } of this.list()) if (state === "running") this.#go(id);
  }

  stop(): void {
    this.#stopped = true;
    for (const stop of this.#stops) stop();
  }

  /** Resolves when nothing runs any more. */
  async settled(): Promise<void> {
    await Promise.all(this.#running.values());
  }

  list(): ImportRow[] {
    const { sql } = this.#desk;
    return sql.all(sql.q.selectFrom("imports").selectAll().orderBy("at", "desc").orderBy("id", "desc"));
  }

  get(id: string): ImportRow | undefined {
    const { sql } = this.#desk;
    return sql.get(sql.q.selectFrom("imports").selectAll().where("id", "=", id));
  }

  #go(id: string): void {
    const work = this.#run(id)
      .catch((error: unknown) => {
        if (this.#stopped) return;
        this.#log.error({ err: error, importId: id }, "an import failed");
        this.#change(id, { state: "failed", error: error instanceof Error ? error.message : String(error) });
        this.#tell();
      })
      .finally(() => this.#running.delete(id));
    this.#running.set(id, work);
  }

  #change(id: string, change: Partial<ImportRow>): void {
    const { sql } = this.#desk;
    sql.run(sql.q.updateTable("imports").set(change).where("id", "=", id));
  }

  #tell(): void {
    this.#desk.feed.publish({ n: 0, leadId: null, kinds: ["import"] });
  }

  async #run(id: string): Promise<void> {
    const job = this.get(id)!;
    const options = JSON.parse(job.optionsJson) as ImportOptions;
    const source = this.#desk.setup.sources.find((s) => s.id === job.sourceId);
    if (!source) throw new Error("The source of this import is no longer there.");
    const rows = this.#rowsOf(job.fileId, source, options, job.done + 1);
    const beside = !options.route && hasThread("import");
    const finished = beside ? await this.#loadBeside(job, rows) : await this.#loadHere(job, rows, options);
    if (!finished) return;
    const { done } = this.get(id)!;
    this.#change(id, { state: "done", total: done, finishedAt: this.#desk.clock.now() });
    this.#desk.feed.publish({ n: 0, leadId: null, kinds: ["import", "imported"] });
  }

  /** Tell of progress, but not of every slice. */
  #tellNow(): void {
    if (performance.now() - this.#told < TELL) return;
    this.#told = performance.now();
    this.#tell();
  }

  /** A list that is only kept is loaded beside the desk: nobody's load, turn or timer changes by it. */
  async #loadBeside(job: ImportRow, rows: RowsOf): Promise<boolean> {
    const { clock, setup, sql } = this.#desk;
    const load: LoadJob = {
      importId: job.id,
      database: sql.path,
      rows,
      setup,
      ahead: clock.now() - Date.now(),
      indexed: job.indexed,
    };
    const worker = startWorker({ load });
    const stop = () => worker.postMessage("stop");
    this.#stops.add(stop);
    try {
      const finished = await new Promise<boolean>((resolve, reject) => {
        worker.on("message", (said: Said<never>) => {
          if (said.moved) this.#tellNow();
          else if (said.error !== undefined) reject(new Error(said.error));
          else resolve(said.finished === true);
        });
        worker.on("error", reject);
      });
      // A lead known before may have got a bell by what the list says of it.
      this.#desk.timers.refresh();
      return finished;
    } finally {
      this.#stops.delete(stop);
      await worker.terminate();
    }
  }

  /** A list that is routed changes loads and turns as it goes: it is worked here, a slice at a time. */
  async #loadHere(job: ImportRow, rows: RowsOf, options: ImportOptions): Promise<boolean> {
    for await (const batch of rowBatches(rows)) {
      for (let at = 0; at < batch.length; ) {
        if (this.#stopped) return false;
        at += this.#slice(job.id, rows.source, options, batch, at);
        this.#tellNow();
        await breathe();
      }
    }
    return true;
  }

  /** Work rows from `at` for as long as a slice lasts, in one transaction with how far it has come. */
  #slice(id: string, source: Source, options: ImportOptions, batch: readonly ReadRow[], at: number): number {
    const { sql, timers, outbox, clock } = this.#desk;
    const plans: Plan[] = [];
    const noted: NotedRow[] = [];
    let rejected = 0;
    const until = performance.now() + SLICE;
    let n = 0;
    try {
      sql.transaction(() => {
        do {
          const row = batch[at + n]!;
          if ("reason" in row) {
            this.#taker.refuse(id, row);
            rejected++;
          } else {
            const match = this.#desk.looker.match([...row.facts.phones, ...row.facts.emails]);
            const plan = this.#taker.take({ importId: id, source, route: options.route }, row, match);
            noted.push([row.row, plan.leadId, plan.before ? 0 : 1]);
            if (plan.timers.length + plan.messages.length + plan.alerts.length > 0) plans.push(plan);
          }
          n++;
        } while (at + n < batch.length && performance.now() < until);
        const made = noted.reduce((sum, [, , fresh]) => sum + fresh, 0);
        this.#taker.note(id, noted);
        this.#intake.countArrivals(source.id, clock.now(), noted.length);
        sql.run(
          sql.q
            .updateTable("imports")
            .set((eb) => ({
              done: batch[at + n - 1]!.row,
              made: eb("made", "+", made),
              joined: eb("joined", "+", noted.length - made),
              rejected: eb("rejected", "+", rejected),
            }))
            .where("id", "=", id),
        );
      });
    } catch (error) {
      this.#desk.looker.reload();
      throw error;
    }
    for (const plan of plans) timers.heed(plan);
    if (plans.length > 0) outbox.kick();
    return n;
  }

  /** The file that a row's inquiry stands in; undefined when the id names none. */
  originalOf(inquiryId: string): { raw: Buffer; contentType: string } | undefined {
    const job = this.get(inquiryId.split(".")[0] ?? "");
    const file = job && this.#desk.files.read(job.fileId);
    return file ? { raw: file.bytes, contentType: "text/csv" } : undefined;
  }

  /** Rejected rows as a table to mend and load again: the file's own columns, and the reason. */
  rejects(id: string): string | null {
    const job = this.get(id);
    const bytes = job && this.#desk.files.read(job.fileId)?.bytes;
    if (!job || !bytes) return null;
    const { headers } = peekTable(decodeTable(bytes.subarray(0, 1 << 18)));
    const { sql } = this.#desk;
    const rows = sql.all(
      sql.q.selectFrom("importRejects").selectAll().where("importId", "=", id).orderBy("row"),
    );
    return writeTable(
      [...headers, "row", "what is wrong"],
      rows.map((r) => {
        const cells = JSON.parse(r.cellsJson) as string[];
        return [...headers.map((_, i) => cells[i] ?? ""), String(r.row), r.reason];
      }),
    );
  }

  /**
   * Take a whole import back, as long as nobody has worked on what it brought. Leads it made are removed; what it
   * added to leads known before stays there as an inquiry of theirs. Gives a sentence when it is too late.
   */
  async undo(id: string): Promise<{ removed: number; kept: number } | { problem: string }> {
    const job = this.get(id);
    if (!job) return { problem: "There is no such import." };
    if (job.state === "running") return { problem: "It is still running. Wait until it is done." };
    if (job.state === "undone") return { problem: "It has been taken back already." };
    if (this.#undoing.has(id)) return { problem: "It is being taken back already." };
    this.#undoing.add(id);
    const { removed, touched } = await this.#undo(id).finally(() => this.#undoing.delete(id));
    if (touched > 0)
      return {
        problem: `Somebody has worked on ${touched} of its leads since. Close those you don't want by hand.`,
      };
    this.#desk.looker.reload();
    this.#desk.timers.refresh();
    this.#change(id, { state: "undone", finishedAt: this.#desk.clock.now() });
    this.#desk.feed.publish({ n: 0, leadId: null, kinds: ["import", "imported"] });
    return { removed, kept: job.joined };
  }

  async #undo(importId: string): Promise<Undone> {
    const { sql, looker, setup } = this.#desk;
    if (!hasThread("import")) return undoRows(sql, looker, committer(sql, looker), importId, breathe);
    const worker = startWorker({ undo: { importId, database: sql.path, setup } });
    try {
      return await new Promise<Undone>((resolve, reject) => {
        worker.on("message", ({ undone, error }: Said<never>) =>
          undone ? resolve(undone) : reject(new Error(error)),
        );
        worker.on("error", reject);
      });
    } finally {
      await worker.terminate();
    }
  }
}
