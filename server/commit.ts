import { sql as raw } from "kysely";
import { blockingKeys } from "../core/contact/likely.ts";
import { holderOf } from "../core/desk/memory.ts";
import type { Plan } from "../core/desk/plan.ts";
import type { LeadEvent } from "../core/lead/events.ts";
import { claims, type Lead } from "../core/lead/lead.ts";
import { packLead } from "../core/lead/pack.ts";
import { placeOf } from "../core/lead/queue.ts";
import type { Alert, OutgoingMessage } from "../core/message/outgoing.ts";
import type { Sql } from "./db/sql.ts";
import { identityOf, type Looker } from "./look/looker.ts";
import { Refusal } from "./refusal.ts";

const kindOf = (value: string) => (value.includes("@") ? "email" : "phone");

function contactsDiffer(a: Lead, b: Lead): boolean {
  return a.phones !== b.phones || a.emails !== b.emails || a.shared !== b.shared || a.joinedTo !== b.joinedTo;
}

function identityDiffers(a: Lead, b: Lead): boolean {
  return (
    contactsDiffer(a, b) ||
    a.name !== b.name ||
    a.company !== b.company ||
    a.facts.postalCode !== b.facts.postalCode
  );
}

/** The columns of a lead's row that are derived from the lead. Shared with `npm run verify`. */
export function leadRow(lead: Lead) {
  const { place, at } = placeOf(lead);
  return {
    id: lead.id,
    seq: lead.seq,
    leadJson: packLead(lead),
    place,
    placeAt: at,
    ownerId: lead.ownerId,
    holderId: holderOf(lead),
    createdAt: lead.createdAt,
    lastActivityAt: lead.lastActivityAt,
    search: [lead.name, lead.company, ...lead.emails, ...lead.phones].filter(Boolean).join(" ").toLowerCase(),
  };
}

/** Whether everything a lead is sorted, counted and searched by is as it was. */
function staysPut(before: Lead, after: Lead, row: ReturnType<typeof leadRow>): boolean {
  const was = placeOf(before);
  return (
    was.place === row.place &&
    was.at === row.placeAt &&
    before.ownerId === row.ownerId &&
    holderOf(before) === row.holderId &&
    !identityDiffers(before, after)
  );
}

/** A new lead's plan with every text made: that costs most, and can be done in another thread than the writing. */
export interface PreparedLead {
  readonly row: ReturnType<typeof leadRow>;
  readonly events: readonly ReturnType<typeof eventRow>[];
  readonly claims: readonly string[];
  readonly keys: readonly string[];
}

/** Make the texts of a plan that begins a lead. */
export function prepareLead({ after, events }: Pick<Plan, "after" | "events">): PreparedLead {
  return {
    row: leadRow(after),
    events: events.map(eventRow),
    claims: claims(after),
    keys: blockingKeys(identityOf(after)),
  };
}

function eventRow({ id, leadId, seq, actId, at, actor, kind, data, why }: LeadEvent) {
  return {
    id,
    leadId,
    seq,
    actId,
    at,
    kind,
    actorJson: JSON.stringify(actor),
    dataJson: JSON.stringify(data),
    whyJson: why ? JSON.stringify(why) : null,
  };
}

export interface Committer {
  /** Write a plan. Returns the number of the last event written. */
  commit(plan: Plan): number;
  /** Write a new lead that has no timers, messages or holder: nothing but itself. */
  writeNew(lead: PreparedLead): void;
  /** Write what a lead is found by: its numbers and addresses, and its keys for likely matches. */
  writeFound(leadId: string, values: readonly string[], keys: readonly string[]): void;
}

/**
 * Writes plans, and is the only thing that does: events, the lead's row, its timers, its messages, the
 * rotation. Call it inside a transaction. With `keysLater` what
 * new leads are found by is left to whoever asked: loading by the hundred thousand writes it in bulk, sorted.
 */
export function committer(sql: Sql, looker: Looker, { keysLater = false } = {}): Committer {
  const { q } = sql;
  const insertLead = sql.inserter("leads", [
    "id",
    "seq",
    "leadJson",
    "place",
    "placeAt",
    "ownerId",
    "holderId",
    "createdAt",
    "lastActivityAt",
    "search",
  ]);
  const updateLead = sql.hot(
    q
      .updateTable("leads")
      .set({
        seq: 0,
        leadJson: "",
        place: "",
        placeAt: 0,
        ownerId: "",
        holderId: "",
        lastActivityAt: 0,
        search: "",
      })
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
  const insertEvent = sql.inserter("events", [
    "id",
    "leadId",
    "seq",
    "actId",
    "at",
    "actorJson",
    "kind",
    "dataJson",
    "whyJson",
  ]);
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
  // By lead first, for which there is an index.
  const callBack = sql.hot(
    q
      .updateTable("outbox")
      .set({ state: "withdrawn" })
      .where("leadId", "=", "")
      .where("id", "=", "")
      .where("state", "=", raw.lit("queued")),
  );
  const setRotation = sql.hot(
    q
      .insertInto("rotations")
      .values({ groupId: "", stateJson: "" })
      .onConflict((c) =>
        c.column("groupId").doUpdateSet((eb) => ({ stateJson: eb.ref("excluded.stateJson") })),
      ),
  );

  function writeLead({ before, after, leadId }: Plan): void {
    const row = leadRow(after);
    if (!before) insertLead(row);
    else {
      const { seq, leadJson, place, placeAt, ownerId, holderId, lastActivityAt, search } = row;
      const { changes } = staysPut(before, after, row)
        ? updateInPlace.run(seq, leadJson, lastActivityAt, leadId, before.seq)
        : updateLead.run(
            seq,
            leadJson,
            place,
            placeAt,
            ownerId,
            holderId,
            lastActivityAt,
            search,
            leadId,
            before.seq,
          );
      if (changes !== 1) throw new Error(`Lead ${leadId} changed between look and commit.`);
    }
    if ((before?.booked ?? null) !== after.booked) writeBooking(after);
    if (!before || contactsDiffer(before, after)) writeContacts(before, after);
    if (!keysLater && (!before || identityDiffers(before, after))) writeKeys(before, after);
  }

  function writeBooking({ id, booked }: Lead): void {
    removeBooking.run(id);
    if (booked) insertBooking.run(id, booked.personId, booked.at, booked.at + booked.minutes * 60_000);
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
  function writeKeys(before: Lead | null, after: Lead): void {
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

  function writeNew({ row, events, claims: values, keys }: PreparedLead): void {
    insertLead(row);
    for (const event of events) insertEvent(event);
    if (!keysLater) writeFound(row.id, values, keys);
  }

  function writeFound(leadId: string, values: readonly string[], keys: readonly string[]): void {
    for (const value of values) insertContact.run(kindOf(value), value, leadId, 0);
    for (const key of keys) insertKey.run(key, leadId);
  }

  function commit(plan: Plan): number {
    if (plan.events.length === 0) return 0;
    writeLead(plan);
    let n = 0;
    for (const event of plan.events) n = Number(insertEvent(eventRow(event)).lastInsertRowid);
    for (const change of plan.timers) {
      if ("set" in change) setTimer({ ...change.set, attempts: 0 });
      else clearTimer.run(change.clear.dueAt, change.clear.id);
    }
    const { at } = plan.events[0]!;
    for (const message of plan.messages) queue(message, at);
    for (const alert of plan.alerts) queue(alert, at);
    for (const id of plan.withdrawn)
      if (callBack.run("withdrawn", plan.leadId, id).changes !== 1)
        throw new Refusal({
          status: 409,
          title: "Too late to call it back",
          detail: "The message has left. Write another one instead.",
        });
    for (const move of plan.rotations) setRotation.run(move.groupId, JSON.stringify(move.after));
    looker.follow(plan);
    return n;
  }

  return { commit, writeNew, writeFound };
}
