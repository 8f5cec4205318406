import type { Minor } from "../money/money.ts";
import type { EndKind } from "../policy/stages.ts";

/** The book of customers: companies, contacts and deals. Each always equals the fold of its own events. Times are epoch ms. */
export const RECORD_KINDS = ["company", "contact", "deal"] as const;
export type RecordKind = (typeof RECORD_KINDS)[number];

interface Kept {
  readonly id: string;
  /** Number of the last event folded in. */
  readonly seq: number;
  readonly name: string;
  /** Leads it came from, or that are about it. */
  readonly leadIds: readonly string[];
  /** The one it was joined to; its own is worked there. */
  readonly joinedTo: string | null;
  /** Those somebody said are others. */
  readonly notSame: readonly string[];
  /** What made it was taken back: it is kept, and shown nowhere. */
  readonly gone: boolean;
  readonly createdAt: number;
  readonly lastActivityAt: number;
}

export interface Company extends Kept {
  readonly kind: "company";
  /** Web and mail domain, without `www.`; null when only private mail is known. */
  readonly domain: string | null;
  readonly phone: string | null;
  readonly address: string | null;
  readonly postalCode: string | null;
}

export interface Contact extends Kept {
  readonly kind: "contact";
  readonly companyId: string | null;
  readonly role: string | null;
  readonly emails: readonly string[];
  /** E.164. */
  readonly phones: readonly string[];
  readonly address: string | null;
  readonly language: string | null;
  /** Since when they are a customer. */
  readonly customerSince: number | null;
}

/** Products of a deal; `price` of one, in the smallest unit. */
export interface DealLine {
  readonly product: string;
  readonly quantity: number;
  readonly price: Minor;
}

/** Something to be done about a deal. */
export interface DealTask {
  readonly id: string;
  readonly note: string;
  readonly dueAt: number;
  readonly to: readonly string[];
}

export interface Deal extends Kept {
  readonly kind: "deal";
  readonly companyId: string | null;
  readonly contactId: string | null;
  readonly ownerId: string | null;
  /** Where its lead came from. */
  readonly sourceId: string | null;
  readonly stage: string;
  /** Since when it stands there. */
  readonly since: number;
  /** Every stage it has stood in, with when it came there. */
  readonly path: readonly { readonly stage: string; readonly at: number }[];
  readonly value: Minor;
  readonly currency: string;
  readonly lines: readonly DealLine[];
  /** A day, `2026-03-04`. */
  readonly expectedOn: string | null;
  readonly nextStep: { readonly note: string; readonly dueAt: number } | null;
  readonly tasks: readonly DealTask[];
  readonly closed: { readonly kind: EndKind; readonly reason: string; readonly at: number } | null;
  /** Where it stands among the others of its stage, by hand: smaller is higher. Null where nobody has moved it. */
  readonly rank: number | null;
  /** What other systems call it, by the name of the hook. */
  readonly theirs: Readonly<Record<string, string>>;
}

export type Rec = Company | Contact | Deal;
export type RecOf<K extends RecordKind> = Extract<Rec, { readonly kind: K }>;

const KEPT = {
  seq: 0,
  name: "",
  leadIds: [],
  joinedTo: null,
  notSame: [],
  gone: false,
} as const;

const BLANK: { readonly [K in RecordKind]: Omit<RecOf<K>, "id" | "createdAt" | "lastActivityAt"> } = {
  company: { ...KEPT, kind: "company", domain: null, phone: null, address: null, postalCode: null },
  contact: {
    ...KEPT,
    kind: "contact",
    companyId: null,
    role: null,
    emails: [],
    phones: [],
    address: null,
    language: null,
    customerSince: null,
  },
  deal: {
    ...KEPT,
    kind: "deal",
    companyId: null,
    contactId: null,
    ownerId: null,
    sourceId: null,
    stage: "",
    since: 0,
    path: [],
    value: 0,
    currency: "USD",
    lines: [],
    expectedOn: null,
    nextStep: null,
    tasks: [],
    closed: null,
    rank: null,
    theirs: {},
  },
};

/** A record before its first event. */
export const blankRecord = (kind: RecordKind, id: string, at: number): Rec =>
  ({ ...BLANK[kind], id, createdAt: at, lastActivityAt: at }) as Rec;

/** What of a record somebody may write: all but what follows from events. */
export type Written<K extends RecordKind> = Partial<
  Omit<
    RecOf<K>,
    | "kind"
    | "id"
    | "seq"
    | "createdAt"
    | "lastActivityAt"
    | "joinedTo"
    | "notSame"
    | "gone"
    | "since"
    | "path"
    | "closed"
  >
>;

export const isCompany = (rec: Rec | null | undefined): rec is Company => rec?.kind === "company";
export const isContact = (rec: Rec | null | undefined): rec is Contact => rec?.kind === "contact";
export const isDeal = (rec: Rec | null | undefined): rec is Deal => rec?.kind === "deal";
