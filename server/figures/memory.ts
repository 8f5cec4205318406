import type { Account, Accounts, OfferAccount, TryAccount } from "../../core/report/account.ts";
import type { Span } from "../../core/report/figures/span.ts";
import type { Sql } from "../db/sql.ts";
import { ACCOUNT_COLUMNS, OFFER_COLUMNS, TRY_COLUMNS } from "./accounts.ts";

/** More accounts than that are not kept in memory: the database is read for each question then. */
const MOST = 400_000;

/** Where accounts of a span are read from. */
export interface AccountSource {
  /** Leads that came in the span. */
  accounts(span: Span): Account[];
  /** What was tried with them. */
  tries(span: Span): TryAccount[];
  /** Offers that were made in the span. */
  offers(span: Span): OfferAccount[];
}

/** Reads accounts from the database, for each question again. */
export class AccountsOnDisk implements AccountSource {
  readonly #sql: Sql;

  constructor(sql: Sql) {
    this.#sql = sql;
  }

  accounts({ from, to }: Span): Account[] {
    const { q } = this.#sql;
    return this.#sql.all(
      q.selectFrom("accounts").select(ACCOUNT_COLUMNS).where("came", ">=", from).where("came", "<", to),
    );
  }

  tries({ from, to }: Span): TryAccount[] {
    const { q } = this.#sql;
    return this.#sql.all(
      q
        .selectFrom("accountTries")
        .innerJoin("accounts", "accounts.leadId", "accountTries.leadId")
        .select(TRY_COLUMNS.map((c) => `accountTries.${c} as ${c}` as const))
        .where("accounts.came", ">=", from)
        .where("accounts.came", "<", to),
    ) as TryAccount[];
  }

  offers({ from, to }: Span): OfferAccount[] {
    const { q } = this.#sql;
    return this.#sql.all(
      q.selectFrom("accountOffers").select(OFFER_COLUMNS).where("at", ">=", from).where("at", "<", to),
    );
  }
}

type Mutable<T> = { -readonly [K in keyof T]: T[K] };
type Kept = { lead: Account; tries: TryAccount[]; offers: OfferAccount[] };

/** The same accounts in memory: read once, and told of each that changes. */
export class AccountsInMemory implements AccountSource {
  readonly #kept = new Map<string, Mutable<Kept>>();
  /** By when they came, and offers by when they were made; null until they are asked for again. */
  #byTime: Kept[] | null = null;
  #offers: OfferAccount[] | null = null;

  /** All there are; null where there are too many. */
  static of(sql: Sql): AccountsInMemory | null {
    const { q } = sql;
    const [row] = sql.all(q.selectFrom("accounts").select((eb) => eb.fn.countAll<number>().as("n")));
    if (Number(row?.n ?? 0) > MOST) return null;
    const memory = new AccountsInMemory();
    const kept = memory.#kept;
    for (const lead of sql.all(q.selectFrom("accounts").select(ACCOUNT_COLUMNS)))
      kept.set(lead.leadId, { lead, tries: [], offers: [] });
    for (const one of sql.all(q.selectFrom("accountTries").select(TRY_COLUMNS)))
      kept.get(one.leadId)?.tries.push(one);
    for (const one of sql.all(q.selectFrom("accountOffers").select(OFFER_COLUMNS)))
      kept.get(one.leadId)?.offers.push(one);
    return memory;
  }

  /** A lead is told of otherwise now; null: no more. */
  told(leadId: string, accounts: Accounts | null): void {
    if (accounts)
      this.#kept.set(leadId, {
        lead: accounts.lead,
        tries: [...accounts.tries],
        offers: [...accounts.offers],
      });
    else if (!this.#kept.delete(leadId)) return;
    this.#byTime = null;
    this.#offers = null;
  }

  accounts(span: Span): Account[] {
    return this.#within(span).map((k) => k.lead);
  }

  tries(span: Span): TryAccount[] {
    return this.#within(span).flatMap((k) => k.tries);
  }

  offers({ from, to }: Span): OfferAccount[] {
    this.#offers ??= [...this.#kept.values()].flatMap((k) => k.offers).sort((a, b) => a.at - b.at);
    return between(this.#offers, (o) => o.at, from, to);
  }

  #within({ from, to }: Span): Kept[] {
    this.#byTime ??= [...this.#kept.values()].sort((a, b) => a.lead.came - b.lead.came);
    return between(this.#byTime, (k) => k.lead.came, from, to);
  }
}

/** Of a list in order, those from `from` (inclusive) to `to` (exclusive). */
function between<T>(list: readonly T[], at: (one: T) => number, from: number, to: number): T[] {
  const first = (goal: number) => {
    let [low, high] = [0, list.length];
    while (low < high) {
      const mid = (low + high) >>> 1;
      if (at(list[mid]!) < goal) low = mid + 1;
      else high = mid;
    }
    return low;
  };
  return list.slice(first(from), first(to));
}
