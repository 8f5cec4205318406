import type { Deal } from "../../core/book/records.ts";
import { OPEN_PLACES } from "../../core/lead/queue.ts";
import type { Setup } from "../../core/policy/setup.ts";
import type { Account } from "../../core/report/account.ts";
import { type BehindAsked, leadsBehind } from "../../core/report/figures/behind.ts";
import { type EffortTold, tellEffort } from "../../core/report/figures/effort.ts";
import { type PeopleTold, tellPeople } from "../../core/report/figures/people.ts";
import { type ResponseAsked, type ResponseTold, tellResponse } from "../../core/report/figures/response.ts";
import {
  type Attribution,
  type SourceGrouping,
  type SourcesTold,
  type Spend,
  tellSources,
  type Won,
} from "../../core/report/figures/sources.ts";
import type { Span } from "../../core/report/figures/span.ts";
import { type StaffingAsked, type StaffingTold, tellStaffing } from "../../core/report/figures/staffing.ts";
import type { Sql } from "../db/sql.ts";
import type { AccountSource } from "./memory.ts";

/** What can be asked of the figures. */
export interface Questions {
  readonly response: ResponseAsked;
  readonly effort: Span;
  readonly sources: Span & { readonly by: SourceGrouping; readonly attribution: Attribution };
  readonly people: Span;
  readonly staffing: StaffingAsked;
  readonly behind: BehindAsked;
}

/** What is answered to each. */
export interface Answers {
  readonly response: ResponseTold;
  readonly effort: EffortTold;
  readonly sources: SourcesTold;
  readonly people: PeopleTold;
  readonly staffing: StaffingTold;
  /** So many there are, and the latest of them. */
  readonly behind: {
    readonly n: number;
    readonly leads: readonly { readonly leadId: string; readonly came: number }[];
  };
}

export type QuestionKind = keyof Questions;

/** A question with all it takes to answer it but the record. */
export type Question = {
  readonly [K in QuestionKind]: {
    readonly kind: K;
    readonly asked: Questions[K];
    readonly setup: Setup;
    /** Which set-up it is: another one, other names and hours, has another number. */
    readonly setupN: number;
  };
}[QuestionKind];

/** So many of the leads behind a figure are shown. */
const MOST_SHOWN = 200;

/** What is known beside the accounts. */
export class Beside {
  readonly #sql: Sql;

  constructor(sql: Sql) {
    this.#sql = sql;
  }

  /** What each lead has brought: its first deal that was won, or that they bought. */
  won(): (account: Account) => Won | null {
    const rows = this.#sql.all(
      this.#sql.q
        .selectFrom("records")
        .select("recordJson")
        .where("kind", "=", "deal")
        .where("state", "=", "closed"),
    );
    const deals = new Map<string, Won>();
    for (const { recordJson } of rows) {
      const deal = JSON.parse(recordJson) as Deal;
      if (deal.closed?.kind !== "won") continue;
      for (const leadId of deal.leadIds.slice(0, 1)) {
        const before = deals.get(leadId);
        deals.set(leadId, {
          at: Math.min(before?.at ?? Number.POSITIVE_INFINITY, deal.closed.at),
          value: (before?.value ?? 0) + deal.value,
        });
      }
    }
    return ({ leadId, boughtAt }) =>
      deals.get(leadId) ?? (boughtAt === null ? null : { at: boughtAt, value: 0 });
  }

  open(): (personId: string) => number {
    const rows = this.#sql.all(
      this.#sql.q
        .selectFrom("leads")
        .select(["ownerId", (eb) => eb.fn.countAll<number>().as("n")])
        .where("ownerId", "is not", null)
        .where("place", "in", [...OPEN_PLACES, "parked"])
        .groupBy("ownerId"),
    );
    const counts = new Map(rows.map(({ ownerId, n }) => [ownerId, n]));
    return (personId) => counts.get(personId) ?? 0;
  }

  spend(): Spend[] {
    return this.#sql.all(
      this.#sql.q.selectFrom("spend").select(["sourceId", "campaign", "month", "amount", "currency"]),
    );
  }
}

/** The answer to a question, from what the accounts say now. */
export function answerTo(
  sql: Sql,
  source: AccountSource,
  { kind, asked, setup }: Question,
): Answers[QuestionKind] {
  const beside = new Beside(sql);
  const accounts = source.accounts(asked);
  switch (kind) {
    case "response":
      return tellResponse(accounts, source.offers(asked), asked, setup);
    case "effort": {
      const won = beside.won();
      return tellEffort(accounts, source.tries(asked), (a) => won(a)?.at ?? null, asked, setup);
    }
    case "sources":
      return tellSources(accounts, beside.won(), beside.spend(), asked, setup);
    case "people": {
      const won = beside.won();
      return tellPeople(accounts, source.offers(asked), (a) => won(a) !== null, beside.open(), asked, setup);
    }
    case "behind": {
      const leads = leadsBehind(accounts, beside.won(), () => source.tries(asked), asked, setup);
      const shown = leads.slice(0, MOST_SHOWN).map(({ leadId, came }) => ({ leadId, came }));
      return { n: leads.length, leads: shown };
    }
    case "staffing":
      return tellStaffing(accounts, source.tries(asked), asked, setup);
  }
}
