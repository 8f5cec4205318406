import { NO_BOOK } from "../../core/book/memory.ts";
import type { World } from "../../core/desk/plan.ts";
import { prepareLead } from "../engine/rows.ts";
import { idMaker } from "../ids.ts";
import type { LoadJob } from "./jobs.ts";
import { type Packed, type PackedRows, Packer } from "./packed.ts";
import { readRows } from "./read-rows.ts";
import { decideRow } from "./take-row.ts";

/** Rows understood and packed at a time: few enough that what they leave behind is young when it is cleared away. */
const READ = 100;
/** Packs handed over at a time: about what one transaction takes. */
const PACKS = 10;
/**
 * What leads are found by is written in bulk after so many rows: sorted, it touches each page of the index once and
 * not a thousand times.
 */
const FOUND_AFTER = 25_000;

/** A list that is kept sends nothing, so nobody need be spared. */
const NOBODY: ReadonlySet<string> = new Set();

/**
 * Read, understand and decide rows as if everybody in them were new, with every text made: in a thread of its own,
 * while another writes. Whoever writes finds out who is known, and decides those again.
 */
export async function* prepareRows({ importId, rows, setup, ahead }: LoadJob): AsyncGenerator<Packed> {
  const clock = { now: () => Date.now() + ahead };
  const id = idMaker(clock);
  const way = { importId, source: rows.source, route: false };
  const packer = new Packer();
  let packs: PackedRows[] = [];
  let since = 0;
  for await (const batch of readRows(rows, READ)) {
    const world: World = {
      now: clock.now(),
      setup,
      loads: {},
      today: {},
      rotations: {},
      book: NO_BOOK,
      counted: () => 0,
      household: () => [],
      lead: null,
      suppressed: NOBODY,
      busy: () => [],
      // Lists answer nobody on their own.
      replies: () => ({ lately: 0, usual: 0 }),
      id,
    };
    for (const row of batch) {
      if ("reason" in row) {
        packer.bad(row);
        continue;
      }
      const decided = decideRow(world, way, row, null);
      if (!decided.ok) throw new Error(decided.problem.detail);
      packer.good(row.row, prepareLead(decided.plan));
    }
    packs.push(packer.take());
    since += batch.length;
    if (packs.length < PACKS) continue;
    const due = since >= FOUND_AFTER;
    yield { packs, found: due ? packer.found.take() : null };
    packs = [];
    if (due) since = 0;
  }
  yield { packs, found: packer.found.take() };
}
