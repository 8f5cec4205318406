import type { World } from "../../core/desk/plan.ts";
import { type PreparedLead, prepareLead } from "../commit.ts";
import { idMaker } from "../ids.ts";
import type { LoadJob } from "./loader.ts";
import { readRows } from "./read-rows.ts";
import { type BadRow, decideRow, type GoodRow } from "./take-row.ts";

/** A row with the lead it begins if nobody knows the person yet: most rows of most lists. */
export type PreparedRow =
  | BadRow
  | (GoodRow & { readonly ways: readonly string[]; readonly fresh: PreparedLead });

/** Rows handed over at a time: more than one transaction works, so that the clock ends it and not the batch. */
const READ = 2_000;

/** A list that is kept sends nothing, so nobody need be spared. */
const NOBODY: ReadonlySet<string> = new Set();

/**
 * Read, understand and decide rows as if everybody in them were new, with every text made: outside of the transaction
 * that writes them, which others wait for. Whoever writes finds out who is known, and decides those again.
 */
export async function* prepareRows({ importId, rows, setup, ahead }: LoadJob): AsyncGenerator<PreparedRow[]> {
  const clock = { now: () => Date.now() + ahead };
  const id = idMaker(clock);
  const way = { importId, source: rows.source, route: false };
  for await (const batch of readRows(rows, READ)) {
    const world: World = {
      now: clock.now(),
      setup,
      loads: {},
      today: {},
      rotations: {},
      household: () => [],
      lead: null,
      suppressed: NOBODY,
      busy: () => [],
      id,
    };
    yield batch.map((row) => {
      if ("reason" in row) return row;
      const decided = decideRow(world, way, row, null);
      if (!decided.ok) throw new Error(decided.problem.detail);
      return { ...row, ways: [...row.facts.phones, ...row.facts.emails], fresh: prepareLead(decided.plan) };
    });
  }
}
