import type { Actor } from "../lead/event.ts";
import { union } from "../lead/together.ts";
import { sayMoney } from "../money/money.ts";
import { nameOf, type Setup } from "../policy/setup.ts";
import { type EndKind, stageName } from "../policy/stages.ts";
import { sayDay, timeBeside } from "../time/words.ts";
import { blankRecord, type Deal, type Rec, type RecordKind } from "./records.ts";

export interface BookHead {
  readonly id: string;
  readonly recordId: string;
  readonly record: RecordKind;
  readonly seq: number;
  readonly actId: string;
  readonly at: number;
  readonly actor: Actor;
}

/** Fields as they are from now on. */
type Fields = Readonly<Record<string, unknown>>;

interface BookKind<D> {
  readonly fold: (rec: Rec, data: D, head: BookHead) => Partial<Rec> | Fields;
  readonly said: (data: D, setup: Setup, head: BookHead) => string;
  /** It keeps nobody from taking back what was done before. */
  readonly passedOver?: true;
}

const kind = <D>(entry: BookKind<D>): BookKind<D> => entry;

/** What a field is called where a change of it is told. */
const CALLED: Readonly<Record<string, string>> = {
  name: "name",
  domain: "domain",
  phone: "phone",
  phones: "phones",
  emails: "mail addresses",
  address: "address",
  postalCode: "postal code",
  role: "role",
  language: "language",
  companyId: "company",
  contactId: "contact",
  ownerId: "owner",
  value: "value",
  lines: "products",
  expectedOn: "expected date",
};

function told(fields: Fields, setup: Setup, head: BookHead): string {
  const parts = Object.entries(fields).flatMap(([key, value]) => {
    const called = CALLED[key];
    if (!called) return [];
    if (key === "ownerId") return [`owner ${nameOf(setup, value as string | null)}`];
    if (key === "value") return [`value ${sayMoney(value as number, setup.policies.company.currency)}`];
    if (key === "expectedOn")
      return [
        value ? `expected ${sayDay(String(value), setup.policies.desk.zone, head.at)}` : "no expected date",
      ];
    if (Array.isArray(value) && value.every((v) => typeof v === "string"))
      return [`${called} ${value.join(", ") || "none"}`];
    return [typeof value === "string" && !key.endsWith("Id") ? `${called} ${value}` : called];
  });
  return parts.join("; ");
}

/** What two records of one kind know together: this one's word first. */
function together(rec: Rec, other: Rec): Fields {
  const filled = Object.fromEntries(
    Object.entries(other).filter(
      ([key, value]) =>
        key in CALLED &&
        key !== "name" &&
        value !== null &&
        !Array.isArray(value) &&
        (rec as unknown as Fields)[key] === null,
    ),
  );
  const lists =
    rec.kind === "contact" && other.kind === "contact"
      ? {
          emails: union(rec.emails, other.emails),
          phones: union(rec.phones, other.phones),
          customerSince: rec.customerSince ?? other.customerSince,
        }
      : {};
  return { ...filled, ...lists, leadIds: union(rec.leadIds, other.leadIds) };
}

/** Everything that can happen to a record, each kind once. */
export const BOOK_EVENTS = {
  /** It was begun, from a lead or by hand. */
  made: kind<{ readonly fields: Fields; readonly from?: string | null }>({
    fold: (rec, { fields }, { at }) => ({
      ...fields,
      ...(rec.kind === "deal" && { since: at, path: [{ stage: fields.stage, at }] }),
    }),
    said: ({ from }) => (from ? `Made from the lead ${from}` : "Made by hand"),
  }),

  changed: kind<{ readonly fields: Fields }>({
    fold: (_rec, { fields }) => fields,
    said: ({ fields }, setup, head) => `Changed: ${told(fields, setup, head) || "details"}`,
  }),

  /** A lead is about it as well. */
  linked: kind<{ readonly leadId: string; readonly name: string | null; readonly fields?: Fields }>({
    fold: (rec, { leadId, fields }) => ({ ...fields, leadIds: union(rec.leadIds, [leadId]) }),
    said: ({ name }) => `The lead ${name ?? "without a name"} was handed over to it`,
  }),

  noted: kind<{ readonly text: string }>({
    passedOver: true,
    fold: () => ({}),
    said: ({ text }) => `Note: ${text}`,
  }),

  /** A deal stands in another stage; `end` when it ended there, null where it is open. */
  moved: kind<{
    readonly from: string;
    readonly to: string;
    readonly end: { readonly kind: EndKind; readonly reason: string } | null;
    readonly because?: string;
  }>({
    fold: (rec, { to, end }, { at }) =>
      rec.kind !== "deal"
        ? {}
        : {
            stage: to,
            since: at,
            path: [...rec.path, { stage: to, at }],
            closed: end && { ...end, at },
            rank: null,
            ...(end && { nextStep: null, tasks: [] }),
          },
    said: ({ from, to, end, because }, { policies }) =>
      `${stageName(policies, from)} → ${stageName(policies, to)}${end ? `: ${end.reason}` : ""}${because ? ` (${because})` : ""}`,
  }),

  step: kind<{ readonly step: Deal["nextStep"] }>({
    fold: (_rec, { step }) => ({ nextStep: step }),
    said: ({ step }, setup, { at }) =>
      step ? `Next: ${step.note}, ${timeBeside(step.dueAt, setup.policies.desk.zone, at)}` : "No next step",
  }),

  "task-done": kind<{ readonly taskId: string; readonly note: string }>({
    fold: (rec, { taskId }) =>
      rec.kind === "deal" ? { tasks: rec.tasks.filter((t) => t.id !== taskId) } : {},
    said: ({ note }) => `Done: ${note}`,
  }),

  /** By hand, among the deals of its stage. */
  ranked: kind<{ readonly rank: number }>({
    passedOver: true,
    fold: (_rec, { rank }) => ({ rank }),
    said: () => "Moved up or down on the board",
  }),

  /** Another system has told what it calls it. */
  "known-there": kind<{ readonly hook: string; readonly as: string }>({
    passedOver: true,
    fold: (rec, { hook, as }) => (rec.kind === "deal" ? { theirs: { ...rec.theirs, [hook]: as } } : {}),
    said: ({ hook, as }) => `${hook} knows it as ${as}`,
  }),

  /** Another record was joined to this one: `other` is that one, whole. */
  joined: kind<{ readonly otherId: string; readonly name: string; readonly other: Rec }>({
    fold: (rec, { other }) => together(rec, other),
    said: ({ name }) => `${name} was joined to it`,
  }),

  "joined-to": kind<{ readonly to: string; readonly name: string }>({
    fold: (_rec, { to }) => ({ joinedTo: to }),
    said: ({ name }) => `Joined to ${name}`,
  }),

  /** Taken apart again: `fields` is what this one knows without the other. */
  parted: kind<{ readonly otherId: string; readonly name: string; readonly fields: Fields }>({
    fold: (rec, { otherId, fields }) => ({ ...fields, notSame: union(rec.notSame, [otherId]) }),
    said: ({ name }) => `Taken apart again from ${name}`,
  }),

  "parted-from": kind<{ readonly from: string; readonly name: string }>({
    fold: (rec, { from }) => ({ joinedTo: null, notSame: union(rec.notSame, [from]) }),
    said: ({ name }) => `Taken apart again from ${name}`,
  }),

  /** What an act did to it was taken back; `fields` as they were before, null when it was not there. */
  "taken-back": kind<{ readonly actId: string; readonly what: string; readonly fields: Fields | null }>({
    fold: (_rec, { fields }) => (fields ? fields : { gone: true }),
    said: ({ what }) => `Undid ${what}`,
  }),
};

export type BookEventKind = keyof typeof BOOK_EVENTS;
export type BookData = {
  readonly [K in BookEventKind]: (typeof BOOK_EVENTS)[K] extends BookKind<infer D> ? D : never;
};
export type BookEvent = {
  [K in BookEventKind]: BookHead & { readonly kind: K; readonly data: BookData[K] };
}[BookEventKind];

const entryOf = ({ kind: key }: Pick<BookEvent, "kind">): BookKind<BookData[BookEventKind]> =>
  BOOK_EVENTS[key] as BookKind<BookData[BookEventKind]>;

/** Whether an event keeps nobody from taking back what was done before it. */
export const isPassedOver = (event: Pick<BookEvent, "kind">): boolean => entryOf(event).passedOver === true;

/** What an event says, in a sentence. */
export const sayBookEvent = (event: BookEvent, setup: Setup): string =>
  entryOf(event).said(event.data, setup, event);

/**
 * The record after one more event; `null` before its first.
 * @throws when the event is not the record's next one: then a row and its events have come apart.
 */
export function foldRecord(rec: Rec | null, event: BookEvent): Rec {
  const before = rec ?? blankRecord(event.record, event.recordId, event.at);
  if (event.seq !== before.seq + 1)
    throw new Error(`${event.record} ${event.recordId}: event ${event.seq} cannot follow ${before.seq}.`);
  const change = entryOf(event).fold(before, event.data, event);
  return { ...before, ...change, seq: event.seq, lastActivityAt: event.at } as Rec;
}

/** The record as all its events make it; null for none. */
export function foldRecords(events: Iterable<BookEvent>): Rec | null {
  let rec: Rec | null = null;
  for (const event of events) rec = foldRecord(rec, event);
  return rec;
}

/** What of a record a taken-back act puts as it was: all but its own identity and count. */
export function restorableRecord(rec: Rec): Fields {
  const { id: _id, kind: _kind, seq: _seq, createdAt: _made, lastActivityAt: _last, ...fields } = rec;
  return fields;
}
