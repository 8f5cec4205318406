import type { Actor } from "../lead/event.ts";
import { type BookData, type BookEvent, type BookEventKind, foldRecord } from "./events.ts";
import type { Rec, RecordKind } from "./records.ts";

/** What of the book a decision sees. */
export interface BookWorld {
  /** The record of that id; null when there is none. Those joined to another, and those taken back, are given too. */
  readonly record: (id: string) => Rec | null;
  readonly events: (id: string) => readonly BookEvent[];
  /** Ids of the records an act wrote. */
  readonly ofAct: (actId: string) => readonly string[];
  /** Ids of records that share one of these keys. */
  readonly sharing: (keys: readonly string[]) => readonly string[];
  /** Ids of the deals of a lead, a company or a contact. */
  readonly dealsOf: (id: string) => readonly string[];
}

/** A record as an act leaves it. */
export interface BookChange {
  readonly before: Rec | null;
  readonly after: Rec;
  readonly events: readonly BookEvent[];
}

interface Around {
  readonly now: number;
  readonly id: (prefix: string) => string;
  readonly book: BookWorld;
}

const PREFIX: Readonly<Record<RecordKind, string>> = { company: "co", contact: "ct", deal: "deal" };

/** Changes of the book in the making: each event is folded at once. */
export class BookDraft {
  readonly #around: Around;
  readonly #actor: Actor;
  readonly actId: string;
  readonly #changes = new Map<string, { before: Rec | null; after: Rec; events: BookEvent[] }>();

  constructor(around: Around, actor: Actor, actId: string) {
    this.#around = around;
    this.#actor = actor;
    this.actId = actId;
  }

  get changes(): readonly BookChange[] {
    return [...this.#changes.values()];
  }

  /** The record as the draft leaves it so far; null when there is none. */
  record(id: string): Rec | null {
    return this.#changes.get(id)?.after ?? this.#around.book.record(id);
  }

  /** The record that goes on being worked when this one was joined to another; null when it is not there. */
  survivor(id: string | null): Rec | null {
    let rec = id === null ? null : this.record(id);
    for (let i = 0; i < 20 && rec?.joinedTo; i++) rec = this.record(rec.joinedTo);
    return rec && !rec.gone ? rec : null;
  }

  make(kind: RecordKind, fields: BookData["made"]["fields"], from?: string | null): Rec {
    const id = this.#around.id(PREFIX[kind]);
    return this.#write(kind, id, null, "made", { fields, ...(from && { from }) });
  }

  /** @throws when there is no such record: whoever writes has looked. */
  add<K extends BookEventKind>(id: string, kind: K, data: BookData[K], actor?: Actor): Rec {
    const rec = this.record(id);
    if (!rec) throw new Error(`There is no record ${id}.`);
    return this.#write(rec.kind, id, rec, kind, data, actor);
  }

  #write<K extends BookEventKind>(
    record: RecordKind,
    recordId: string,
    rec: Rec | null,
    kind: K,
    data: BookData[K],
    actor?: Actor,
  ): Rec {
    const event = {
      id: this.#around.id("bev"),
      recordId,
      record,
      seq: (rec?.seq ?? 0) + 1,
      actId: this.actId,
      at: this.#around.now,
      actor: actor ?? this.#actor,
      kind,
      data,
    } as BookEvent;
    const after = foldRecord(rec, event);
    const change = this.#changes.get(recordId);
    if (change) {
      change.after = after;
      change.events.push(event);
    } else this.#changes.set(recordId, { before: rec, after, events: [event] });
    return after;
  }
}
