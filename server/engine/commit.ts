import { sql as raw } from "kysely";
import { blockingKeys } from "../../core/contact/likely.ts";
import type { BookPlan } from "../../core/desk/deals.ts";
import type { Plan, Told } from "../../core/desk/plan.ts";
import { NOBODY } from "../../core/lead/blank.ts";
import type { LeadEvent } from "../../core/lead/events.ts";
import { claims, type Lead } from "../../core/lead/lead.ts";
import { timerChanges, timersOf } from "../../core/lead/timers.ts";
import type { Alert, OutgoingMessage } from "../../core/message/outgoing.ts";
import type { Sql } from "../db/sql.ts";
import { forgetInSearch } from "../search/index.ts";
import { identityOf, type Looker } from "./looker.ts";
import { Refusal } from "./refusal.ts";
import {
  contactsDiffer,
  EVENT_COLUMNS,
  eventRow,
  filesOf,
  identityDiffers,
  LEAD_COLUMNS,
  leadRow,
  type PreparedLead,
  staysPut,
} from "./rows.ts";

const NONE: Lead["scheduled"] = [];
const NO_RUNS = NOBODY.cadences;
const NO_TASKS = NOBODY.tasks;
const NO_QUESTIONS = NOBODY.asked;

const kindOf = (value: string) => (value.includes("@") ? "email" : "phone");

export interface Committer {
  /** Write a plan. Returns the number of the last event written. */
  commit(plan: Plan): number;
  /** Write what changes in the book of customers alone. */
  commitBook(plan: BookPlan, at: number): void;
  /** Write new leads that have no timers, messages or holder: nothing but themselves. */
  writeNew(leads: readonly Pick<PreparedLead, "row" | "events">[]): void;
  /** Write by what leads are surely found, as value and lead. Gives those that are found by a value of another lead. */
  writeValues(found: readonly Found[]): readonly Found[];
  /** Write by what leads are likely found, as key and lead. */
  writeKeys(found: readonly Found[]): void;
  /**
   * Take a lead out again with everything about it. The one place where something is removed from the desk, and only
   * for what was never anybody's work: tests, and lists nobody has touched.
   */
  wipe(lead: Lead): void;
  /**
   * Write a lead's events anew, each in the place of the one with its number, and the lead as they fold now: for taking out
   * what named somebody. What it is found by and its timers follow; search must be told by whoever asks.
   */
  rewrite(before: Lead, after: Lead, events: readonly LeadEvent[]): void;
}

/** What a lead is found by, and the lead. */
export type Found = readonly [by: string, leadId: string];

/**
 * Writes plans, and is the only thing that does: events, the lead's row, its timers, its messages, the
 * rotation. Call it inside a transaction. With `keysLater` what
 * new leads are found by is left to whoever asked: loading by the hundred thousand writes it in bulk, sorted.
 */
export function committer(
  sql: Sql,
  looker: Looker,
  {
    keysLater = false,
    isLeaving = (_messageId: string): boolean => false,
    tell = (_told: readonly Told[], _lead: Lead | null, _at: number, _events: readonly LeadEvent[]): void =>
      undefined,
  } = {},
): Committer {
  const { q } = sql;
  const insertLead = sql.inserter("leads", LEAD_COLUMNS);
  const fillLeads = sql.filler("leads", LEAD_COLUMNS);
  const changes = LEAD_COLUMNS.filter((column) => column !== "id" && column !== "createdAt");
  const updateLead = sql.hot(
    q
      .updateTable("leads")
      .set(Object.fromEntries(changes.map((column) => [column, ""])))
      .where("id", "=", "")
      .where("seq", "=", 0),
  );
  // Most changes leave a lead where it stands: the indexes of what is named here alone are touched.
  const updateInPlace = sql.hot(
    q
      .updateTable("leads")
      .set({ seq: 0, leadJson: "", lastActivityAt: 0 })
      .where("id", "=", "")
      .where("seq", "=", 0),
  );
  const contact = q.insertInto("contacts").values({ kind: "phone", value: "", leadId: "", shared: 0 });
  const insertContact = sql.hot(contact.onConflict((c) => c.doNothing()));
  const markShared = sql.hot(
    contact.onConflict((c) =>
      c
        .column("value")
        .doUpdateSet((eb) => ({ leadId: eb.ref("excluded.leadId"), shared: eb.ref("excluded.shared") })),
    ),
  );
  const removeContact = sql.hot(q.deleteFrom("contacts").where("value", "=", "").where("leadId", "=", ""));
  const insertKey = sql.hot(
    q
      .insertInto("likeKeys")
      .values({ key: "", leadId: "" })
      .onConflict((c) => c.doNothing()),
  );
  const removeKey = sql.hot(q.deleteFrom("likeKeys").where("key", "=", "").where("leadId", "=", ""));
  const fillContacts = sql.filler("contacts", ["kind", "value", "leadId", "shared"], { spare: true });
  const fillKeys = sql.filler("likeKeys", ["key", "leadId"], { spare: true });
  const holder = sql.hot(q.selectFrom("contacts").select("leadId").where("value", "=", ""));
  // What refers to a lead, before the lead itself; each is found by lead or message.
  const messagesOf = q.selectFrom("outbox").select("id").where("leadId", "=", "");
  const wipes = [
    sql.hot(q.deleteFrom("shortLinks").where("messageId", "in", messagesOf)),
    ...(
      [
        "outbox",
        "events",
        "inquiries",
        "bookings",
        "fileLeads",
        "heldReplies",
        "conversations",
        "cadenceLeads",
        "asked",
        "estimates",
      ] as const
    ).map((table) => sql.hot(q.deleteFrom(table).where("leadId", "=", ""))),
    sql.hot(q.deleteFrom("leads").where("id", "=", "")),
  ];
  const insertEvent = sql.inserter("events", EVENT_COLUMNS);
  const fillEvents = sql.filler("events", EVENT_COLUMNS);
  const insertFile = sql.hot(
    q
      .insertInto("fileLeads")
      .values({ fileId: "", leadId: "" })
      .onConflict((c) => c.doNothing()),
  );
  const rewriteEvent = sql.hot(
    q.updateTable("events").set({ dataJson: "", whyJson: "" }).where("leadId", "=", "").where("seq", "=", 0),
  );
  const setTimer = sql.inserter("timers", ["id", "leadId", "kind", "dueAt", "attempts"]);
  const clearTimer = sql.hot(q.deleteFrom("timers").where("dueAt", "=", 0).where("id", "=", ""));
  const insertMessage = sql.hot(
    q
      .insertInto("outbox")
      .values({
        id: "",
        key: "",
        channel: "text",
        toAddress: "",
        fromAddress: "",
        subject: "",
        body: "",
        linkJson: "",
        headersJson: "",
        attachmentsJson: "",
        leadId: "",
        personId: "",
        purpose: "",
        state: "queued",
        attempts: 0,
        nextAt: 0,
        createdAt: 0,
        sentAt: null,
        error: null,
      })
      .onConflict((c) => c.column("key").doNothing()),
  );
  const removeBooking = sql.hot(q.deleteFrom("bookings").where("leadId", "=", ""));
  const insertBooking = sql.hot(
    q.insertInto("bookings").values({ leadId: "", personId: "", startAt: 0, endAt: 0 }),
  );
  const removeHeld = sql.hot(q.deleteFrom("heldReplies").where("leadId", "=", ""));
  const insertHeld = sql.hot(q.insertInto("heldReplies").values({ leadId: "", sourceId: "" }));
  // By lead first, for which there is an index.
  const callBack = sql.hot(
    q
      .updateTable("outbox")
      .set({ state: "withdrawn" })
      .where("leadId", "=", "")
      .where("id", "=", "")
      .where("state", "=", raw.lit("queued")),
  );
  const removeTasks = sql.hot(q.deleteFrom("tasks").where("leadId", "=", ""));
  const insertTask = sql.inserter("tasks", ["leadId", "taskId", "personId", "dueAt"]);
  const removeRuns = sql.hot(q.deleteFrom("cadenceLeads").where("leadId", "=", ""));
  const insertRun = sql.inserter("cadenceLeads", [
    "cadenceId",
    "leadId",
    "runId",
    "version",
    "n",
    "state",
    "at",
  ]);
  const removeAsked = sql.hot(q.deleteFrom("asked").where("leadId", "=", ""));
  const insertAsked = sql.inserter("asked", ["leadId", "noteId", "personId", "at"]);
  const insertEstimate = sql.hot(
    q
      .insertInto("estimates")
      .values({ id: "", leadId: "" })
      .onConflict((c) => c.doNothing()),
  );
  const setCounter = sql.hot(
    q
      .insertInto("counters")
      .values({ name: "", value: 0 })
      .onConflict((c) => c.column("name").doUpdateSet((eb) => ({ value: eb.ref("excluded.value") }))),
  );
  const setRotation = sql.hot(
    q
      .insertInto("rotations")
      .values({ groupId: "", stateJson: "" })
      .onConflict((c) =>
        c.column("groupId").doUpdateSet((eb) => ({ stateJson: eb.ref("excluded.stateJson") })),
      ),
  );

  function writeLead({ before, after, leadId }: Pick<Plan, "before" | "after" | "leadId">): void {
    const row = leadRow(after);
    if (!before) insertLead(row);
    else {
      const run = staysPut(before, after, row)
        ? updateInPlace.run(row.seq, row.leadJson, row.lastActivityAt, leadId, before.seq)
        : updateLead.run(...changes.map((column) => row[column]), leadId, before.seq);
      if (run.changes !== 1) throw new Error(`Lead ${leadId} changed between look and commit.`);
    }
    if ((before?.booked ?? null) !== after.booked) writeBooking(after);
    if ((before?.scheduled ?? NONE) !== after.scheduled) writeHeld(after);
    if ((before?.cadences ?? NO_RUNS) !== after.cadences) writeRuns(after);
    if ((before?.tasks ?? NO_TASKS) !== after.tasks) writeTasks(after);
    if (before?.estimates !== after.estimates && after.estimates.length > 0) writeEstimates(before, after);
    if ((before?.asked ?? NO_QUESTIONS) !== after.asked) writeAsked(after);
    if (!before || contactsDiffer(before, after)) writeContacts(before, after);
    if (!keysLater && (!before || identityDiffers(before, after))) changeKeys(before, after);
  }

  function writeBooking({ id, booked }: Lead): void {
    removeBooking.run(id);
    if (booked) insertBooking.run(id, booked.personId, booked.at, booked.at + booked.minutes * 60_000);
  }

  /** Who is in which cadence, and where: for counting, and for asking by cadence. */
  function writeRuns({ id: leadId, cadences }: Lead): void {
    removeRuns.run(leadId);
    for (const { ended, id: runId, cadenceId, version, n, state, at } of cadences)
      if (!ended) insertRun({ cadenceId, leadId, runId, version, n, state, at });
  }

  function writeTasks({ id: leadId, tasks, closed }: Lead): void {
    removeTasks.run(leadId);
    if (closed) return;
    for (const { id: taskId, to, dueAt } of tasks)
      for (const personId of to) insertTask({ leadId, taskId, personId, dueAt });
  }

  /** An estimate stays whose it was when its lead is joined to another: that one is found from there. */
  function writeEstimates(before: Lead | null, { id: leadId, estimates }: Lead): void {
    for (const { id } of estimates)
      if (!before?.estimates.some((e) => e.id === id)) insertEstimate.run(id, leadId);
  }

  function writeAsked({ id: leadId, asked }: Lead): void {
    removeAsked.run(leadId);
    for (const { noteId, to, at } of asked)
      for (const personId of to) insertAsked({ leadId, noteId, personId, at });
  }

  function writeHeld({ id, sourceId, scheduled, closed }: Lead): void {
    removeHeld.run(id);
    if (!closed && scheduled.some((s) => s.held)) insertHeld.run(id, sourceId);
  }

  /** What surely tells that somebody is this lead; what it let go of is free for another. */
  function writeContacts(before: Lead | null, after: Lead): void {
    const had = new Set(claims(before));
    const has = new Set(claims(after));
    for (const value of had) if (!has.has(value)) removeContact.run(value, after.id);
    for (const value of has) if (!had.has(value)) insertContact.run(kindOf(value), value, after.id, 0);
    for (const value of after.shared)
      if (!before?.shared.includes(value)) markShared.run(kindOf(value), value, after.id, 1);
    for (const value of before?.shared ?? [])
      if (!after.shared.includes(value) && has.has(value)) markShared.run(kindOf(value), value, after.id, 0);
  }

  /** What likely tells that somebody is this lead. A lead joined to another is not proposed any more. */
  function changeKeys(before: Lead | null, after: Lead): void {
    const had = before && !before.joinedTo ? blockingKeys(identityOf(before)) : [];
    const has = after.joinedTo ? [] : blockingKeys(identityOf(after));
    for (const key of had) if (!has.includes(key)) removeKey.run(key, after.id);
    for (const key of has) if (!had.includes(key)) insertKey.run(key, after.id);
  }

  function queue(message: OutgoingMessage | Alert, now: number): void {
    const link = "link" in message && message.link ? JSON.stringify(message.link) : null;
    const personId = "personId" in message ? message.personId : null;
    const { id, key, channel, to, from, subject, body, leadId, purpose } = message;
    insertMessage.run(
      id,
      key,
      channel,
      to,
      from,
      subject,
      body,
      link,
      "headers" in message && message.headers ? JSON.stringify(message.headers) : null,
      message.attachments ? JSON.stringify(message.attachments) : null,
      leadId,
      personId,
      purpose,
      "queued",
      0,
      message.notBefore ?? now,
      now,
      null,
      null,
    );
  }

  function writeNew(leads: readonly Pick<PreparedLead, "row" | "events">[]): void {
    fillLeads(leads.map(({ row }) => row));
    fillEvents(leads.flatMap(({ events }) => events));
  }

  function writeValues(found: readonly Found[]): readonly Found[] {
    const written = fillContacts(
      found.map(([value, leadId]) => ({ kind: kindOf(value), value, leadId, shared: 0 })),
    );
    if (written === found.length) return [];
    return found.filter(([value, leadId]) => holder.get(value)?.leadId !== leadId);
  }

  function writeKeys(found: readonly Found[]): void {
    fillKeys(found.map(([key, leadId]) => ({ key, leadId })));
  }

  function wipe(lead: Lead): void {
    for (const value of [...lead.phones, ...lead.emails]) removeContact.run(value, lead.id);
    for (const key of blockingKeys(identityOf(lead))) removeKey.run(key, lead.id);
    for (const { dueAt, id } of timersOf(lead)) clearTimer.run(dueAt, id);
    for (const statement of wipes) statement.run(lead.id);
    forgetInSearch(sql, lead.id);
  }

  function changeTimers(changes: Plan["timers"]): void {
    for (const change of changes) {
      if ("set" in change) setTimer({ ...change.set, attempts: 0 });
      else clearTimer.run(change.clear.dueAt, change.clear.id);
    }
  }

  function rewrite(before: Lead, after: Lead, events: readonly LeadEvent[]): void {
    const leadId = before.id;
    for (const event of events) {
      const { dataJson, whyJson } = eventRow(event);
      rewriteEvent.run(dataJson, whyJson, leadId, event.seq);
    }
    writeLead({ before, after, leadId });
    changeTimers(timerChanges(before, after));
  }

  function commit(plan: Plan): number {
    if (plan.events.length === 0) return 0;
    writeLead(plan);
    let n = 0;
    for (const event of plan.events) {
      n = Number(insertEvent(eventRow(event)).lastInsertRowid);
      for (const { fileId } of filesOf(event)) insertFile.run(fileId, plan.leadId);
    }
    changeTimers(plan.timers);
    const { at } = plan.events[0]!;
    for (const message of plan.messages) queue(message, at);
    for (const alert of plan.alerts) queue(alert, at);
    for (const id of plan.withdrawn)
      if (callBack.run("withdrawn", plan.leadId, id).changes !== 1)
        throw new Refusal({
          code: "too-late-to-call-back",
          status: 409,
          title: "Too late to call it back",
          detail: "The message has left. Write another one instead.",
        });
    // What is leaving at this moment has left: it is let go. All else is called back before it can.
    for (const id of plan.recalled) if (!isLeaving(id)) callBack.run("withdrawn", plan.leadId, id);
    looker.book.write(plan.book);
    for (const [name, value] of Object.entries(plan.counted)) setCounter.run(name, value);
    tell(plan.told, plan.after, at, plan.events);
    for (const move of plan.rotations) setRotation.run(move.groupId, JSON.stringify(move.after));
    looker.follow(plan);
    return n;
  }

  function commitBook({ book, told, lead }: BookPlan, at: number): void {
    if (lead) {
      commit(lead);
      return;
    }
    looker.book.write(book);
    const about = told[0]?.leadId ?? null;
    if (told.length > 0) tell(told, about === null ? null : looker.lead(about), at, []);
  }

  return { commit, commitBook, writeNew, writeValues, writeKeys, wipe, rewrite };
}
