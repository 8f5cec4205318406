import { sql as raw } from "kysely";
import { isContact } from "../../core/book/records.ts";
import { blockingKeys, type Identity, likeness, WEIGHTS } from "../../core/contact/likely.ts";
import type { Plan, World } from "../../core/desk/plan.ts";
import type { LeadEvent } from "../../core/lead/events.ts";
import type { Lead, MaybeSame } from "../../core/lead/lead.ts";
import type { Setup } from "../../core/policy/setup.ts";
import type { RotationState } from "../../core/rotation/turns.ts";
import { householdOf } from "../../core/routing/household.ts";
import { DayCount, holderOf, shiftLoad } from "../../core/routing/loads.ts";
import { startOfDay } from "../../core/time/defer.ts";
import type { MessageWay } from "../../core/vocabulary.ts";
import { BookStore } from "../book/store.ts";
import type { Clock } from "../clock.ts";
import type { Sql } from "../db/sql.ts";
import type { MakeId } from "../ids.ts";
import { LeadCache } from "../read/lead-cache.ts";
import { testLeads } from "../read/tests.ts";

/** Of each blocking key so many leads are compared, the newest first, and so many in all. */
const PER_KEY = 12;
const MOST_COMPARED = 40;
const HOUR = 3_600_000;

const foundOn = (kind: "phone" | "email") => (kind === "phone" ? "phone number" : "mail address");

/** What a lead is compared by. */
export function identityOf({ name, company, emails, phones, facts }: Lead): Identity {
  return { name, company, emails, phones, postalCode: facts.postalCode };
}

/**
 * Reads the small piece of the world a decision needs. The setup, loads and rotations are small and asked
 * for every time, so they are kept in memory beside the database and moved on by each commit.
 */
export class Looker {
  readonly #sql: Sql;
  readonly #clock: Clock;
  readonly #id: MakeId;
  readonly leads: LeadCache;
  readonly book: BookStore;
  readonly #counter;
  readonly #contact;
  readonly #contacts;
  readonly #alike;
  readonly #booked;
  readonly #written;
  readonly #writtenFrom;
  #setup: Setup;
  #loads: Record<string, number> = {};
  #today = new DayCount();
  #rotations: Record<string, RotationState> = {};
  #suppressed: Set<string> = new Set();
  /** When each source answered people never written to, within the last hour, the latest last. */
  #answered = new Map<string, number[]>();
  readonly #unset: () => ReadonlySet<MessageWay>;
  /** How many inquiries a source's busiest hour usually brings. */
  usualOf: (sourceId: string) => number = () => 0;

  constructor(
    sql: Sql,
    clock: Clock,
    id: MakeId,
    setup: Setup,
    /** Ways out that are not set up. */
    unset: () => ReadonlySet<MessageWay> = () => new Set(),
  ) {
    this.#unset = unset;
    this.#sql = sql;
    this.#clock = clock;
    this.#id = id;
    this.#setup = setup;
    this.leads = new LeadCache(sql);
    this.book = new BookStore(sql);
    this.#counter = sql.hot(sql.q.selectFrom("counters").select("value").where("name", "=", ""));
    this.#contact = sql.hot(
      sql.q.selectFrom("contacts").select(["leadId", "kind"]).where("value", "=", "").where("shared", "=", 0),
    );
    this.#contacts = sql.hot(
      sql.q
        .selectFrom("contacts")
        .select(["value", "leadId", "kind", "shared"])
        .where(raw<boolean>`value in (select value from json_each(${""}))`),
    );
    this.#alike = sql.hot(
      sql.q.selectFrom("likeKeys").select("leadId").where("key", "=", "").orderBy("leadId", "desc").limit(1),
    );
    // Literals, so that the index of what was written to leads is used.
    const written = sql.q
      .selectFrom("outbox")
      .select("leadId")
      .where(raw<boolean>`purpose in ('reply', 'first-reply')`)
      .where("toAddress", "=", "")
      .orderBy("n", "desc");
    this.#written = sql.hot(written.limit(raw.lit(1)));
    this.#writtenFrom = sql.hot(written.where("fromAddress", "=", "").limit(raw.lit(1)));
    this.#booked = sql.hot(
      sql.q
        .selectFrom("bookings")
        .select(["leadId", "startAt", "endAt"])
        .where("personId", "=", "")
        .where("endAt", ">", 0),
    );
    this.reload();
  }

  /** Ways out that are not set up. */
  get unset(): ReadonlySet<MessageWay> {
    return this.#unset();
  }

  get setup(): Setup {
    return this.#setup;
  }

  set setup(setup: Setup) {
    this.#setup = setup;
  }

  /** How many open leads each person holds. */
  get loads(): Readonly<Record<string, number>> {
    return this.#loads;
  }

  /** The lead with that id, or null. */
  lead(id: string): Lead | null {
    return this.leads.get(id);
  }

  /**
   * The lead that surely is the same person: same phone number, else same mail address, unless shared. What only the
   * book of customers knows leads there as well.
   */
  match(values: readonly string[]): { leadId: string; on: string } | null {
    for (const value of values) {
      const found = this.#contact.get(value, 0);
      if (found) return { leadId: found.leadId, on: foundOn(found.kind) };
    }
    if (this.book.isEmpty) return null;
    for (const value of values) {
      const found = this.#contact.get(value, 1) ? null : this.#throughBook(value);
      if (found) return found;
    }
    return null;
  }

  /** The newest lead of the one contact in the book who is reached there; null where there is none, or more than one. */
  #throughBook(value: string): { leadId: string; on: string } | null {
    const kind = value.includes("@") ? "email" : "phone";
    const contacts = this.book
      .sharing([`${kind}:${value}`])
      .flatMap((id) => this.book.record(id) ?? [])
      .filter(isContact);
    const leadId = contacts[0]?.leadIds.at(-1);
    return contacts.length === 1 && leadId && this.lead(leadId)
      ? { leadId: this.survivor(leadId), on: `${foundOn(kind)} as a customer’s` }
      : null;
  }

  /**
   * Like {@link match} for many people at once: what is known of each of these numbers and addresses. Null stands for one
   * that several people share: it tells nobody apart.
   */
  matches(values: readonly string[]): ReadonlyMap<string, { leadId: string; on: string } | null> {
    const found = new Map<string, { leadId: string; on: string } | null>();
    if (values.length > 0)
      for (const { value, leadId, kind, shared } of this.#contacts.all(JSON.stringify(values)))
        found.set(value, shared ? null : { leadId, on: foundOn(kind) });
    if (!this.book.isEmpty)
      for (const value of values) {
        const customer = found.has(value) ? null : this.#throughBook(value);
        if (customer) found.set(value, customer);
      }
    return found;
  }

  /**
   * The lead we last wrote to at that number or address: from this line of ours when we ever did, else from any. Null
   * when we never wrote there.
   */
  lastWrittenTo(address: string, line: string | null): { leadId: string; onLine: boolean } | null {
    const fromLine = line === null ? undefined : this.#writtenFrom.get(address, line);
    const found = fromLine ?? this.#written.get(address);
    return found?.leadId ? { leadId: this.survivor(found.leadId), onLine: fromLine !== undefined } : null;
  }

  /** The lead that goes on being worked when this one was joined to another. */
  survivor(leadId: string): string {
    let id = leadId;
    for (let i = 0; i < 20; i++) {
      const next = this.lead(id)?.joinedTo;
      if (!next) return id;
      id = next;
    }
    return id;
  }

  /**
   * Leads that are likely the same person, the likeliest first. Only those that share a blocking key are compared,
   * of each key the newest: however many leads there are, a look costs a few dozen comparisons.
   */
  likely(who: Identity, most = 3): MaybeSame[] {
    const ids = new Set<string>();
    // A number several people share tells nobody apart, but it says something.
    for (const phone of who.phones) {
      const shared = this.#contact.get(phone, 1);
      if (shared) ids.add(shared.leadId);
    }
    for (const key of blockingKeys(who))
      for (const { leadId } of this.#alike.all(key, PER_KEY)) if (ids.size < MOST_COMPARED) ids.add(leadId);
    const found: MaybeSame[] = [];
    for (const leadId of ids) {
      const lead = this.lead(leadId);
      if (!lead || lead.joinedTo) continue;
      const { points, evidence } = likeness(who, identityOf(lead));
      if (points >= WEIGHTS.likely) found.push({ leadId, points, evidence });
    }
    return found.sort((a, b) => b.points - a.points).slice(0, most);
  }

  /** The world as a decision about this lead sees it now; without a lead for one not made yet. */
  look(leadId: string | null): World {
    return {
      unset: this.unset,
      now: this.#clock.now(),
      setup: this.#setup,
      loads: this.#loads,
      rotations: this.#rotations,
      today: this.#today.of(this.#setup, this.#clock.now()),
      household: (lead) =>
        householdOf(lead, {
          byId: (id) => this.lead(id),
          sharing: (value) => {
            const shared = this.#contact.get(value, 1);
            const other = shared && this.lead(shared.leadId);
            return other ? [other] : [];
          },
        }),
      lead: leadId === null ? null : this.lead(leadId),
      suppressed: this.#suppressed,
      replies: (sourceId) => ({ lately: this.#answeredLately(sourceId), usual: this.usualOf(sourceId) }),
      busy: (personId) =>
        this.#booked
          .all(personId, this.#clock.now())
          .map(({ leadId, startAt, endAt }) => ({ leadId, from: startAt, to: endAt })),
      book: this.book,
      counted: (name) => this.#counter.get(name)?.value ?? 0,
      id: this.#id,
    };
  }

  #answeredLately(sourceId: string): number {
    const since = this.#clock.now() - HOUR;
    const times = this.#answered.get(sourceId) ?? [];
    const from = times.findIndex((at) => at > since);
    if (from !== 0) this.#answered.set(sourceId, from < 0 ? [] : times.slice(from));
    return from < 0 ? 0 : times.length - from;
  }

  /** A lead that got its first automatic message counts for its source. */
  #countAnswer({ before, after }: Pick<Plan, "before" | "after">): void {
    const [first] = after.automatic;
    if (first === undefined || before?.automatic[0] === first || first <= this.#clock.now() - HOUR) return;
    const times = this.#answered.get(after.sourceId);
    if (times) times.push(first);
    else this.#answered.set(after.sourceId, [first]);
  }

  /** Follow a plan that is being committed. */
  follow(plan: Plan): void {
    this.leads.put(plan.after);
    this.#countAnswer(plan);
    shiftLoad(this.#loads, plan.before, plan.after);
    if (!plan.after.test) this.#today.count(this.#setup, plan.events);
    for (const move of plan.rotations) this.#rotations[move.groupId] = move.after;
  }

  /** Read everything again from the database: at the start, and after a transaction that was rolled back. */
  reload(): void {
    this.leads.clear();
    const { q } = this.#sql;
    const held = q
      .selectFrom("leads")
      .select(["holderId", (eb) => eb.fn.countAll<number>().as("open")])
      .where("holderId", "is not", null)
      .groupBy("holderId");
    this.#loads = Object.fromEntries(this.#sql.all(held).map((r) => [r.holderId as string, Number(r.open)]));
    const tests = testLeads(this.#sql, this.leads);
    for (const test of tests.values()) {
      const holder = holderOf(test);
      if (holder) this.#loads[holder]!--;
    }
    const turns = this.#sql.all(q.selectFrom("rotations").selectAll());
    this.#rotations = Object.fromEntries(
      turns.map((r) => [r.groupId, JSON.parse(r.stateJson) as RotationState]),
    );
    this.#today = new DayCount();
    const since = startOfDay(this.#clock.now(), this.#setup.policies.desk.zone);
    // Literals, so that the index of just these is used.
    const got = q
      .selectFrom("events")
      .select(["leadId", "kind", "dataJson", "at"])
      .where(raw<boolean>`kind in ('taken', 'given')`)
      .where("at", ">=", since)
      .orderBy("at")
      .orderBy("n");
    for (const { leadId, ...row } of this.#sql.all(got))
      if (!tests.has(leadId))
        this.#today.count(this.#setup, [
          { kind: row.kind, data: JSON.parse(row.dataJson), at: row.at } as LeadEvent,
        ]);
    this.#answered = new Map();
    // Literals, and each as often as it is there, so that the index of messages alone is used.
    const written = q
      .selectFrom("events")
      .select("leadId")
      .where(raw<boolean>`kind in ('message-out', 'message-in')`)
      .where("at", ">", this.#clock.now() - HOUR);
    for (const leadId of new Set(this.#sql.all(written).map((row) => row.leadId))) {
      const after = this.lead(leadId);
      if (after) this.#countAnswer({ before: null, after });
    }
    for (const times of this.#answered.values()) times.sort((a, b) => a - b);
    this.#suppressed = new Set(this.#sql.all(q.selectFrom("suppressed").select("value")).map((r) => r.value));
  }
}

export { holderOf };
