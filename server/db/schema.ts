import type { Generated } from "kysely";

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
