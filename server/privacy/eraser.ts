import { sql as raw } from "kysely";
import { type BookEvent, foldRecords } from "../../core/book/events.ts";
import { isContact } from "../../core/book/records.ts";
import { sayErased } from "../../core/desk/privacy.ts";
import type { LeadEvent } from "../../core/lead/events.ts";
import { foldAll } from "../../core/lead/fold.ts";
import type { Lead } from "../../core/lead/lead.ts";
import { companyWords, erased, erasedContact } from "../../core/privacy/erase.ts";
import { isAmong, Redactor, sureOf, tracesOf } from "../../core/privacy/traces.ts";
import type { Engine } from "../engine/engine.ts";
import { SearchIndex } from "../search/index.ts";
import { cleanSpot, leadsNaming, type Mentions, mentionsOf } from "./mentions.ts";
import { ERASED_ONCE, printOf, SALT } from "./prints.ts";

/** What stood of somebody, in numbers. */
export interface ErasedOf {
  readonly leads: number;
  readonly events: number;
  readonly messages: number;
  readonly inquiries: number;
  readonly files: number;
  /** Places elsewhere that named them: notes on others, what was sent to colleagues, lists. */
  readonly elsewhere: number;
}

/** The leads and contacts that are one person. */
export interface Family {
  readonly leads: readonly Lead[];
  readonly contactIds: readonly string[];
}

/** So many pages of an index are merged in one go. */
const MERGED = 200;

/** What is kept of an inquiry: that it came, when and by what. */
const NOTHING_ARRIVED = { raw: Buffer.alloc(0), headersJson: "{}", reason: null, fingerprint: null };
const NOTHING_SENT = {
  toAddress: "",
  subject: null,
  body: "",
  linkJson: null,
  headersJson: null,
  attachmentsJson: null,
};

/**
 * Takes everything that names somebody out of the desk: from what happened, rows, search, what arrived and left, files, and
 * from wherever else they are named. Events are written anew, so the fold still equals the row, and figures stay.
 */
export class Eraser {
  readonly #desk: Engine;
  readonly #index: SearchIndex;

  constructor(desk: Engine) {
    this.#desk = desk;
    this.#index = new SearchIndex(desk.sql, desk.looker.leads);
  }

  /** All leads that are this person's: those joined to theirs, and those of their contact in the book. */
  family(leadId: string): Family {
    const { looker, reader } = this.#desk;
    const leads = new Map<string, Lead>();
    const contacts = new Set<string>();
    const waiting = [looker.survivor(leadId)];
    for (let id = waiting.pop(); id !== undefined; id = waiting.pop()) {
      const lead = leads.has(id) ? null : looker.lead(id);
      if (!lead) continue;
      leads.set(id, lead);
      for (const event of reader.events(id))
        if (event.kind === "joined" && looker.lead(event.data.leadId)?.joinedTo === id)
          waiting.push(event.data.leadId);
      const contact = looker.book.record(lead.handedOver?.contactId ?? "");
      if (!isContact(contact)) continue;
      contacts.add(contact.id);
      waiting.push(...contact.leadIds.map((of) => looker.survivor(of)));
    }
    return { leads: [...leads.values()], contactIds: [...contacts] };
  }

  /**
   * Erase somebody. What names them elsewhere is looked for first, some at a time; then all of it goes in one transaction, and
   * `ended` says in it that it did.
   */
  async erase(leadId: string, ended: (of: ErasedOf) => void): Promise<void> {
    const { sql, looker, timers, feed, files } = this.#desk;
    const family = this.family(leadId);
    const ids = new Set([...family.leads.map((l) => l.id), ...family.contactIds]);
    const traces = await this.#traces(family, ids);
    const mentions = await mentionsOf(this.#desk, traces, (id) => ids.has(id));
    const gone = sql.transaction(() => {
      const { files: own, ...counts } = this.#inside(leadId, new Redactor(traces), mentions);
      const theirs = [...new Set([...own, ...mentions.files])];
      files.forget(theirs);
      ended({ ...counts, files: theirs.length });
      return theirs;
    });
    // What outlives a kill here is known to nobody, and the next night takes it away.
    for (const fileId of gone) files.remove(fileId);
    looker.reload();
    timers.refresh();
    feed.publish({ n: 0, leadId: null, kinds: ["wiped", "privacy"] });
  }

  /** Have the index of what can be found forget for good what was taken out of it, a little at a time. */
  async mergeIndex(isStopped: () => boolean): Promise<void> {
    for (const table of ["searchKnown", "searchWrote"] as const) {
      // A negative number begins to merge all of it; what is left over is done when nothing changes any more.
      for (let pages = -MERGED; !isStopped(); pages = MERGED) {
        const before = this.#desk.sql.written();
        const merge = raw`insert into ${raw.table(table)}(${raw.ref(table)}, rank) values ('merge', ${pages})`;
        this.#desk.sql.run({ compile: () => merge.compile(this.#desk.sql.q) });
        if (this.#desk.sql.written() - before < 2) break;
        await new Promise((resolve) => setImmediate(resolve));
      }
    }
  }

  /** By what they are found elsewhere; what they share with somebody else names that one still. */
  async #traces(family: Family, ids: ReadonlySet<string>): Promise<readonly string[]> {
    const { reader, looker, setup } = this.#desk;
    const events = [
      ...family.leads.flatMap((l) => reader.events(l.id)),
      ...family.contactIds.flatMap((id) => looker.book.events(id)),
    ];
    const ours = setup.people.flatMap((p) => [p.name, p.email]);
    const traces = tracesOf(events as Pick<LeadEvent, "data">[], ours);
    const shared = new Set<string>();
    for await (const { id, search } of leadsNaming(this.#desk.sql, traces.map(sureOf)))
      if (!ids.has(id)) for (const trace of traces) if (isAmong(trace, search)) shared.add(trace);
    return traces.filter((trace) => !shared.has(trace));
  }

  #inside(leadId: string, redactor: Redactor, mentions: Mentions) {
    const words = companyWords(this.#desk.setup);
    // Once more: somebody may have worked on it while the rest was looked for.
    const { leads, contactIds } = this.family(leadId);
    // First what is named elsewhere: their own rows are emptied after that.
    for (const spot of mentions.spots) cleanSpot(this.#desk.sql, spot, redactor);
    this.#keepPrints(leads);
    this.#desk.kept.count(ERASED_ONCE);
    let events = 0;
    for (const { id } of leads) events += this.#anew(id, (event) => erased(event, words), true);
    for (const id of contactIds) this.#recordAnew(id, (event) => erasedContact(event, words));
    const counts = this.#rowsOf(leads.map((l) => l.id));
    for (const id of mentions.leadIds) this.#anew(id, (event) => redactor.value(event));
    for (const id of mentions.recordIds) this.#recordAnew(id, (event) => redactor.value(event));
    const elsewhere =
      mentions.leadIds.size + mentions.recordIds.size + mentions.spots.length + mentions.files.length;
    return { leads: leads.length, events, elsewhere, ...counts };
  }

  /** Write a lead's events anew; gives how many. `isTheirs`: it is one of those who are erased, and says so. */
  #anew(leadId: string, change: (event: LeadEvent) => LeadEvent, isTheirs = false): number {
    const { looker, reader, rewrite, commit } = this.#desk;
    const before = looker.lead(leadId);
    if (!before) return 0;
    const events = reader.events(leadId).map(change);
    const after = foldAll(events);
    if (!after) return 0;
    rewrite(before, after, events);
    looker.leads.put(after);
    if (isTheirs) {
      const said = sayErased(looker.look(leadId));
      if (said.ok) commit(said.plan);
    }
    this.#index.again(leadId);
    return events.length;
  }

  #recordAnew(recordId: string, change: (event: BookEvent) => BookEvent): void {
    const { book } = this.#desk.looker;
    const before = book.record(recordId);
    const events = book.events(recordId).map(change);
    const after = foldRecords(events);
    if (before && after) book.rewrite(before, after, events);
  }

  /** What a list is compared with later, so that it does not bring them back unseen. */
  #keepPrints(leads: readonly Lead[]): void {
    const { sql, kept, clock } = this.#desk;
    const salt = kept.ownSecret(SALT);
    const at = clock.now();
    for (const value of new Set(leads.flatMap((l) => [...l.phones, ...l.emails]))) {
      const silent = sql.run(sql.q.deleteFrom("suppressed").where("value", "=", value)) > 0 ? 1 : 0;
      const row = { print: printOf(salt, value), at, silent };
      sql.run(
        sql.q
          .insertInto("erasedPrints")
          .values(row)
          .onConflict((c) => c.doNothing()),
      );
    }
  }

  /** The rows that belong to their leads. Gives how many of what, and the files nobody else has. */
  #rowsOf(leadIds: readonly string[]) {
    const { sql, kept } = this.#desk;
    const { q } = sql;
    const salt = kept.ownSecret(SALT);
    // Told no more, and kept nowhere: other systems have had it, or never will.
    for (const table of ["drafts", "conversations", "hookDeliveries"] as const)
      sql.run(q.deleteFrom(table).where("leadId", "in", leadIds));
    const arrived = q.selectFrom("inquiries").select("id").where("leadId", "in", leadIds);
    sql.run(q.deleteFrom("documents").where("inquiryId", "in", arrived));
    const messages = sql.run(
      q
        .updateTable("outbox")
        .set({ ...NOTHING_SENT, state: raw`case state when 'queued' then 'withdrawn' else state end` })
        .where("leadId", "in", leadIds),
    );
    sql.run(q.updateTable("shortLinks").set({ url: "" }).where("leadId", "in", leadIds));
    sql.run(
      q
        .updateTable("calls")
        .set({ notes: "", toAddress: "", endedJson: null, state: "done" })
        .where("leadId", "in", leadIds),
    );
    const inquiries = sql.all(
      q.selectFrom("inquiries").select(["id", "dedupe"]).where("leadId", "in", leadIds),
    );
    for (const { id, dedupe } of inquiries)
      sql.run(
        q
          .updateTable("inquiries")
          // The same submission sent again is still known.
          .set({ ...NOTHING_ARRIVED, dedupe: dedupe && printOf(salt, dedupe) })
          .where("id", "=", id),
      );
    for (const id of leadIds)
      sql.run(q.deleteFrom("idempotency").where(raw<boolean>`instr(body, ${id}) > 0`));
    const theirs = sql.all(
      q.selectFrom("fileLeads").select("fileId").distinct().where("leadId", "in", leadIds),
    );
    sql.run(q.deleteFrom("fileLeads").where("leadId", "in", leadIds));
    const shared = new Set(
      sql
        .all(
          q
            .selectFrom("fileLeads")
            .select("fileId")
            .where(
              "fileId",
              "in",
              theirs.map((f) => f.fileId),
            ),
        )
        .map((f) => f.fileId),
    );
    const files = theirs.flatMap(({ fileId }) => (shared.has(fileId) ? [] : [fileId]));
    return { messages, inquiries: inquiries.length, files };
  }
}
