import type { Encoding } from "../../core/import/table.ts";
import type { Policies, Setup } from "../../core/policy/setup.ts";
import type { Source } from "../../core/policy/source.ts";
import type { ErasedPrints } from "../privacy/prints.ts";

/** What the threads of a list are asked to do, and what they say. */

/** Rows of a file, and how they are read. */
export interface RowsOf {
  readonly path: string;
  readonly encoding: Encoding;
  readonly delimiter: string;
  /** With the import's mapping in place of its own. */
  readonly source: Source;
  readonly policies: Policies;
  /** Whom a list must not bring back unseen: prints of those who were erased. Null where nobody was, or where they are taken in knowingly. */
  readonly erased: ErasedPrints | null;
  /** Rows before this one are skipped: a restart goes on where it was. */
  readonly from: number;
}

/** A list that is only kept, to be loaded beside the desk. */
export interface LoadJob {
  readonly importId: string;
  readonly database: string;
  readonly rows: RowsOf;
  readonly setup: Setup;
  /** How far the desk's clock is ahead of the machine's (ms). */
  readonly ahead: number;
  /** Rows whose leads can be found already. */
  readonly indexed: number;
}

/** A list to be taken back. */
export interface UndoJob {
  readonly importId: string;
  readonly database: string;
  readonly setup: Setup;
}

export interface Undone {
  /** Leads that were taken out. */
  readonly removed: number;
  /** Leads that somebody, or the lead, has done something with: they stay. */
  readonly touched: number;
}

/** What the worker is asked to do: hand over rows, or load a whole list. */
export type WorkerTask =
  | { readonly read: RowsOf }
  /** Only who stands in each row: enough to go through a file. */
  | { readonly check: RowsOf }
  /** Every row understood and decided, ready to be written. */
  | { readonly prepare: LoadJob }
  | { readonly load: LoadJob }
  | { readonly undo: UndoJob };
