import type { Generated } from "kysely";
import type { Account, OfferAccount, TryAccount } from "../../core/report/account.ts";

/** Table shapes. Times are epoch ms; columns ending in `Json` hold JSON text. */
export interface Schema {
  leads: LeadRow;
  contacts: { kind: "phone" | "email"; value: string; leadId: string; shared: Generated<number> };
  likeKeys: { key: string; leadId: string };
  events: EventRow;
  timers: { id: string; leadId: string; kind: string; dueAt: number; attempts: number };
  outbox: OutboxRow;
  /** Whose a conversation of a chat is, by the name the chat gives it. */
  conversations: { sourceId: string; conversation: string; leadId: string };
  inquiries: InquiryRow;
  rotations: { groupId: string; stateJson: string };
  setup: { version: Generated<number>; at: number; by: string | null; setupJson: string };
  idempotency: { key: string; at: number; status: number; body: string; bodyHash: string | null };
  secrets: { name: string; value: string };
  counters: { name: string; value: number };
  arrivals: { sourceId: string; hour: number; n: number };
  sourceStates: { sourceId: string; stateJson: string };
  /** `by` is who of ours uploaded it first; null when it came from outside. */
  files: { id: string; type: string; size: number; at: number; by: string | null };
  fileLeads: { fileId: string; leadId: string };
  /** Documents that name several people, with how many of the others have been taken. */
  documents: { inquiryId: string; done: number };
  /** What people are to do about leads beside the next step. */
  tasks: { leadId: string; taskId: string; personId: string; dueAt: number };
  /** Who is in which cadence now, and at which touch (`n`, from 0). */
  cadenceLeads: {
    cadenceId: string;
    leadId: string;
    runId: string;
    version: number;
    n: number;
    state: string;
    at: number | null;
  };
  /** What can be found: `eventN` of what was written, null of what is known of the lead. */
  searchDocs: { n: Generated<number>; leadId: string; eventN: number | null };
  /** The indexes over what is known and over what was written, by the same `n`; they can be asked and not read. */
  searchKnown: { rowid: number; text: string };
  searchWrote: { rowid: number; text: string };
  searchGaps: { gap: string; word: string };
  searchOwn: { leadId: string; own: string; named: string };
  /** The book of customers: companies, contacts, deals. */
  records: RecordRow;
  bookEvents: BookEventRow;
  /** By what records are found: `email:…`, `domain:…`, and `deal:` with the id of whose deal it is. */
  recordKeys: { key: string; recordId: string };
  /** Who was asked something in a note, and has not answered. */
  asked: { leadId: string; noteId: string; personId: string; at: number };
  /** Whose estimate each is. */
  estimates: { id: string; leadId: string };
  /** What figures are told from: they follow the log of events. */
  accounts: Account;
  accountTries: TryAccount;
  accountOffers: OfferAccount;
  /** What a source, or one of its campaigns, has cost in a month (`2026-03`), in the smallest unit. No campaign is ''. */
  spend: {
    sourceId: string;
    campaign: string;
    month: string;
    amount: number;
    currency: string;
    by: string;
    at: number;
  };
  /** What was tried in the lab, with what it came to once it is done. */
  experiments: {
    id: string;
    at: number;
    by: string;
    name: string;
    askedJson: string;
    /** The changes of each side as sentences, as they were said when it began. */
    saidJson: string;
    state: string;
    resultJson: string | null;
    error: string | null;
  };
  /** Leads that are to be erased, were, or were kept after all. */
  erasures: ErasureRow;
  /** Salted prints of the numbers and addresses of those who were; `silent`: nothing was to be sent there on its own. */
  erasedPrints: { print: string; at: number; silent: number };
  openLinks: OpenLinkRow;
  /** Saved lists of leads. */
  lists: { id: string; ownerId: string; shared: string; name: string; listJson: string; at: number };
  listLooks: ListLookRow;
  /** The leads of a watched list when it was looked at last, as whoever watches sees it. */
  listMembers: { personId: string; listId: string; leadId: string };
  listSends: ListSendRow;
  /** Leads that were taken out, with the last number of events left then: numbers are given again. */
  leadsGone: { n: Generated<number>; leadId: string; upTo: number };
  hookDeliveries: HookDeliveryRow;
  /** Leads with an automatic reply that somebody must let go. */
  heldReplies: { leadId: string; sourceId: string };
  imports: ImportRow;
  /** Which leads the rows of a list became part of, many rows a record; `row` is the first of them. */
  importSlices: { importId: string; row: number; leadsJson: string };
  importRejects: { importId: string; row: number; cellsJson: string; reason: string };
  suppressed: { value: string; at: number; by: string | null; reason: string };
  drafts: { personId: string; leadId: string; at: number; draftJson: string };
  shortLinks: {
    n: Generated<number>;
    messageId: string;
    leadId: string;
    url: string;
    clicks: Generated<number>;
  };
  bookings: { leadId: string; personId: string; startAt: number; endAt: number };
  calls: CallRow;
  ruleVersions: { version: number; at: number; by: string | null; note: string; rulesJson: string };
  duty: {
    n: Generated<number>;
    personId: string;
    at: number;
    off: number;
    by: string | null;
    until: number | null;
  };
  audit: {
    n: Generated<number>;
    at: number;
    by: string | null;
    what: string;
    detailJson: string;
    /** The API key that acted for them, by name. */
    via: string | null;
  };
  apiKeys: ApiKeyRow;
  headerMappings: { key: string; at: number; mappingJson: string };
}

/** A secret address from which another program fetches; kept as a hash. */
export interface OpenLinkRow {
  id: string;
  hash: string;
  kind: "calendar" | "list";
  personId: string;
  listId: string | null;
  format: "csv" | "json" | null;
  at: number;
  lastUsedAt: number | null;
  revokedAt: number | null;
}

export interface ErasureRow {
  id: string;
  leadId: string;
  askedAt: number;
  /** Who asked; null when a rule did. */
  by: string | null;
  ruleId: string | null;
  because: string;
  dueAt: number;
  state: "waiting" | "done" | "kept";
  /** The act by which it was asked, to be undone. */
  actId: string | null;
  doneAt: number | null;
  /** What was erased, in numbers; or why they were kept. */
  saidJson: string | null;
}

/** What a person has to do with a list. */
export interface ListLookRow {
  personId: string;
  listId: string;
  pinned: number;
  /** When they looked last. */
  seenAt: number;
  /** 1 for the list they begin with. */
  first: Generated<number>;
  /** 1 when they are told of what comes into it. */
  tellEnters: Generated<number>;
  /** From more leads than this on they are told; null for never. */
  tellOver: number | null;
  /** 1 while it has more. */
  isOver: Generated<number>;
  /** 1 once the desk has looked at it for them: before that nothing is told. */
  looked: Generated<number>;
}

/** A list that leaves by itself: to a person here by mail, or to another system. */
export interface ListSendRow {
  id: string;
  listId: string;
  byId: string;
  toKind: "person" | "hook";
  toId: string;
  format: "csv" | "json" | "vcf";
  /** 1 (Monday) to 7; null for every day. */
  weekday: number | null;
  /** Of the desk's day. */
  minute: number;
  nextAt: number;
  lastAt: number | null;
  /** What became of the last one. */
  said: string | null;
}

export interface RecordRow {
  id: string;
  kind: "company" | "contact" | "deal";
  seq: number;
  recordJson: string;
  name: string;
  stage: string | null;
  ownerId: string | null;
  /** `gone`: its making was taken back. `joined`: worked under another. */
  state: "open" | "closed" | "joined" | "gone";
  /** Of deals, in the smallest unit. */
  value: number | null;
  createdAt: number;
  lastActivityAt: number;
}

export interface BookEventRow {
  n: Generated<number>;
  id: string;
  recordId: string;
  record: "company" | "contact" | "deal";
  seq: number;
  actId: string;
  at: number;
  actorJson: string;
  kind: string;
  dataJson: string;
}

export interface HookDeliveryRow {
  id: string;
  hookId: string;
  event: string;
  at: number;
  leadId: string | null;
  dealId: string | null;
  bodyJson: string;
  state: "queued" | "delivered" | "dead";
  attempts: number;
  nextAt: number;
  /** What the other side answered: its status, and the beginning of its words. */
  status: number | null;
  said: string | null;
  answeredAt: number | null;
  /** What goes in order: of one lead, or deal. */
  lane: string;
  /** Since when it is tried. */
  since: number;
}

export interface ApiKeyRow {
  id: string;
  /** SHA-256 of the key, which is shown once and kept nowhere. */
  hash: string;
  name: string;
  /** Its first letters, to tell keys apart by. */
  start: string;
  scopesJson: string;
  at: number;
  by: string;
  lastUsedAt: number | null;
  revokedAt: number | null;
}

export interface CallRow {
  id: string;
  leadId: string;
  personId: string;
  at: number;
  /** `done` once its outcome is logged or it was put aside. */
  state: "ringing-us" | "ringing-them" | "talking" | "ended" | "done";
  stateAt: number;
  /** When both were on the line; null while or when they never were. */
  talkedFrom: number | null;
  toAddress: string;
  fromAddress: string;
  /** What was typed while talking. */
  notes: string;
  /** What the line reported at the end. */
  endedJson: string | null;
}

export interface ImportRow {
  id: string;
  at: number;
  by: string;
  sourceId: string;
  name: string;
  fileId: string;
  optionsJson: string;
  state: "running" | "done" | "failed" | "undone";
  /** Rows below the headers. */
  total: number;
  /** Rows dealt with so far: where a restart goes on. */
  done: number;
  made: number;
  joined: number;
  rejected: number;
  /** Rows whose keys for likely matches are written. */
  indexed: number;
  finishedAt: number | null;
  error: string | null;
}

export interface LeadRow {
  id: string;
  seq: number;
  /** The folded lead, whole. The columns beside it only exist to be sorted, counted and searched by. */
  leadJson: string;
  place: string;
  placeAt: number;
  ownerId: string | null;
  holderId: string | null;
  createdAt: number;
  lastActivityAt: number;
  search: string;
  sourceId: string;
  product: string | null;
  territory: string | null;
  language: string | null;
  postalCode: string | null;
  company: string | null;
  preferred: string | null;
  campaign: string | null;
  stage: string;
  creditId: string | null;
  value: number | null;
  inquiries: number;
  tries: number;
  reached: number;
  lastTryAt: number | null;
  dueAt: number | null;
  called: string;
  tags: string | null;
  people: string | null;
}

export interface EventRow {
  n: Generated<number>;
  id: string;
  leadId: string;
  seq: number;
  actId: string;
  at: number;
  actorJson: string;
  kind: string;
  dataJson: string;
  whyJson: string | null;
}

export interface OutboxRow {
  n: Generated<number>;
  id: string;
  key: string;
  channel: "email" | "text" | "chat";
  toAddress: string;
  fromAddress: string;
  subject: string | null;
  body: string;
  linkJson: string | null;
  /** Further mail headers. */
  headersJson: string | null;
  /** Files of a mail. */
  attachmentsJson: string | null;
  /** Null when it is about no lead. */
  leadId: string | null;
  personId: string | null;
  purpose: string;
  /**
   * `sent`: the next server has taken it. `delivered`: the far end has said that it has it. `dead`: it has not arrived and
   * is not tried again on its own. `withdrawn`: called back before it left.
   */
  state: "queued" | "sent" | "delivered" | "dead" | "withdrawn";
  attempts: number;
  nextAt: number;
  createdAt: number;
  sentAt: number | null;
  error: string | null;
}

export interface InquiryRow {
  id: string;
  sourceId: string;
  receivedAt: number;
  /** What a repeat of the same submission is recognised by. */
  dedupe: string | null;
  contentType: string;
  headersJson: string;
  raw: Buffer;
  /** `dismissed`: somebody has looked, and it is no inquiry. */
  state: "understood" | "quarantined" | "dismissed";
  reason: string | null;
  leadId: string | null;
  matched: "new" | "sure" | "none";
  /** The hash of what arrived, when the sender gave it no number of its own. */
  fingerprint: string | null;
  test: Generated<number>;
  /** 1 when it was put in quarantine because it looks like a robot's: only somebody who has looked may replay it. */
  held: Generated<number>;
}
