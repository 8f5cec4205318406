import type { BookChange, BookWorld } from "./draft.ts";
import type { BookEvent } from "./events.ts";
import { companyKeys, contactKeys } from "./match.ts";
import type { Rec } from "./records.ts";

/** By what a record is found by those who may be it. A deal is nobody. */
export function keysOf(rec: Rec): readonly string[] {
  if (rec.gone || rec.joinedTo) return [];
  if (rec.kind === "company") return companyKeys(rec);
  return rec.kind === "contact" ? contactKeys(rec) : [];
}

/** Whose contact somebody is. */
const companyKey = (rec: Rec): readonly string[] =>
  rec.kind === "contact" && rec.companyId && !rec.gone && !rec.joinedTo ? [rec.companyId] : [];

/** Of what a deal is one: its leads, its company, its contact. */
export function dealKeys(rec: Rec): readonly string[] {
  if (rec.kind !== "deal" || rec.gone) return [];
  return [...rec.leadIds, rec.companyId, rec.contactId].filter((id): id is string => id !== null);
}

/** All a record is found by: what it may be matched by, whose deal it is, and whose contact. */
export const allRecordKeys = (rec: Rec): readonly string[] => [
  ...new Set([
    ...keysOf(rec),
    ...dealKeys(rec).map((id) => `deal:${id}`),
    ...companyKey(rec).map((id) => `contact:${id}`),
  ]),
];

/** The book of customers with maps in the database's place. */
export class MemoryBook implements BookWorld {
  readonly records = new Map<string, Rec>();
  readonly all: BookEvent[] = [];

  readonly record = (id: string): Rec | null => this.records.get(id) ?? null;
  readonly events = (id: string): readonly BookEvent[] => this.all.filter((e) => e.recordId === id);
  readonly ofAct = (actId: string): readonly string[] => [
    ...new Set(this.all.filter((e) => e.actId === actId).map((e) => e.recordId)),
  ];
  readonly sharing = (keys: readonly string[]): readonly string[] =>
    [...this.records.values()].filter((rec) => keysOf(rec).some((k) => keys.includes(k))).map((r) => r.id);
  readonly dealsOf = (id: string): readonly string[] =>
    [...this.records.values()].filter((rec) => dealKeys(rec).includes(id)).map((r) => r.id);

  write(changes: readonly BookChange[]): void {
    for (const { after, events } of changes) {
      this.records.set(after.id, after);
      this.all.push(...events);
    }
  }
}

/** A book with nothing in it, for decisions that never look. */
export const NO_BOOK: BookWorld = new MemoryBook();
