import {
  type Account,
  type Accounts,
  accountOf,
  type OfferAccount,
  type TryAccount,
} from "../../core/report/account.ts";
import type { Sql } from "../db/sql.ts";
import { Reader } from "../read/reader.ts";

/** The counters that say up to which event (its `n`) accounts are kept, and by which way of telling them. */
const UP_TO = "figures-up-to";
const TOLD_BY = "figures-told-by";
/** Grows when an account tells something else than before: they are made again then. */
const WAY = 1;
/** So many events are looked at in one go. */
const AT_ONCE = 400;

export const ACCOUNT_COLUMNS = [
  "leadId",
  "seq",
  "came",
  "source",
  "lastSource",
  "campaign",
  "lastCampaign",
  "channel",
  "product",
  "zone",
  "rule",
  "groupId",
  "person",
  "kept",
  "repliedAt",
  "triedAt",
  "talkedAt",
  "unrepliedAt",
  "untriedAt",
  "untalkedAt",
  "dueAt",
  "answeredAt",
  "letOffAt",
  "rangAt",
  "tries",
  "talkedAtTry",
  "stages",
  "handedOverAt",
  "boughtAt",
  "closedAt",
  "closedAs",
  "inquiries",
] as const satisfies readonly (keyof Account)[];
export const TRY_COLUMNS = [
  "leadId",
  "n",
  "at",
  "person",
  "channel",
  "reached",
  "talked",
  "wrapped",
] as const satisfies readonly (keyof TryAccount)[];
export const OFFER_COLUMNS = [
  "leadId",
  "person",
  "at",
  "endedAt",
  "how",
] as const satisfies readonly (keyof OfferAccount)[];

/** Up to which event (its `n`) accounts are kept; 0 where they are to be made again. */
export function reachedBy(sql: Sql): number {
  const counter = (name: string) =>
    sql.get(sql.q.selectFrom("counters").select("value").where("name", "=", name))?.value ?? 0;
  return counter(TOLD_BY) === WAY ? counter(UP_TO) : 0;
}

/**
 * Keeps the accounts of leads. They follow the log of events: what is told and how far it has come are written together, so a
 * process that was killed goes on where it was. Nothing is written while a lead is folded, so the desk is held up by the writing
 * alone.
 */
export class AccountBook {
  readonly #sql: Sql;
  readonly #reader: Reader;
  readonly #after;
  readonly #counter;
  readonly #setCounter;
  readonly #isThere;
  readonly #toldOf;
  readonly #forget;
  readonly #put;
  readonly #told: (leadId: string, accounts: Accounts | null) => void;

  /** `told` hears of each account that is another than it was. */
  constructor(sql: Sql, told: (leadId: string, accounts: Accounts | null) => void = () => {}) {
    this.#sql = sql;
    this.#told = told;
    this.#reader = new Reader(sql);
    const { q } = sql;
    this.#after = sql.hot(
      q.selectFrom("events").select(["n", "leadId", "seq"]).where("n", ">", 0).orderBy("n").limit(AT_ONCE),
    );
    this.#counter = sql.hot(q.selectFrom("counters").select("value").where("name", "=", ""));
    this.#setCounter = sql.hot(
      q
        .insertInto("counters")
        .values({ name: "", value: 0 })
        .onConflict((c) => c.column("name").doUpdateSet((eb) => ({ value: eb.ref("excluded.value") }))),
    );
    this.#isThere = sql.hot(q.selectFrom("leads").select("id").where("id", "=", ""));
    this.#toldOf = sql.hot(q.selectFrom("accounts").select("seq").where("leadId", "=", ""));
    this.#forget = (["accounts", "accountTries", "accountOffers"] as const).map((table) =>
      sql.hot(q.deleteFrom(table).where("leadId", "=", "")),
    );
    this.#put = {
      lead: sql.filler("accounts", ACCOUNT_COLUMNS),
      tries: sql.filler("accountTries", TRY_COLUMNS),
      offers: sql.filler("accountOffers", OFFER_COLUMNS),
    };
  }

  /** How many events it is behind the log. */
  behind(): number {
    const last = this.#sql.get(this.#sql.q.selectFrom("events").select((eb) => eb.fn.max("n").as("n")));
    return Math.max(0, Number(last?.n ?? 0) - reachedBy(this.#sql));
  }

  /** Take in what has happened since, as much as `events` (about); gives whether anything is left. */
  follow(events: number): boolean {
    if (this.#counter.get(TOLD_BY)?.value !== WAY) this.clear();
    for (let taken = 0; taken < events; ) {
      const n = this.#slice();
      if (n < AT_ONCE) return false;
      taken += n;
    }
    return true;
  }

  /** Forget all accounts: they are made again from the events. */
  clear(): void {
    const { q } = this.#sql;
    this.#sql.transaction(() => {
      for (const table of ["accounts", "accountTries", "accountOffers"] as const)
        this.#sql.run(q.deleteFrom(table));
      this.#setCounter.run(UP_TO, 0);
      this.#setCounter.run(TOLD_BY, WAY);
    });
  }

  #slice(): number {
    const rows = this.#after.all(reachedBy(this.#sql), AT_ONCE);
    if (rows.length === 0) return 0;
    // A lead is told of with all its events at once: far behind the log, most of what comes is told already.
    const behind = rows.filter(({ leadId, seq }) => (this.#toldOf.get(leadId)?.seq ?? 0) < seq);
    const told = [...new Set(behind.map((r) => r.leadId))].map(
      (leadId) => [leadId, accountOf([...this.#reader.events(leadId, 0, ALL)])] as const,
    );
    this.#sql.transaction(() => {
      for (const [leadId, accounts] of told) {
        for (const one of this.#forget) one.run(leadId);
        // One that was taken out meanwhile is told of no more.
        if (!accounts || !this.#isThere.get(leadId)) continue;
        this.#put.lead([accounts.lead as never]);
        this.#put.tries(accounts.tries as never);
        this.#put.offers(accounts.offers as never);
      }
      this.#setCounter.run(UP_TO, rows.at(-1)!.n);
    });
    for (const [leadId, accounts] of told) this.#told(leadId, accounts);
    return rows.length;
  }
}

/** More events than one lead has. */
const ALL = 1_000_000;
