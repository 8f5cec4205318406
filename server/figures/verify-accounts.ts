import { isDeepStrictEqual } from "node:util";
import type { LeadEvent } from "../../core/lead/events.ts";
import { accountOf } from "../../core/report/account.ts";
import type { Sql } from "../db/sql.ts";
import { ACCOUNT_COLUMNS, OFFER_COLUMNS, reachedBy, TRY_COLUMNS } from "./accounts.ts";

/** What is not told as its events say of a lead, in words; nothing of a lead the accounts have not come to yet. Changes nothing. */
export function accountFaults(sql: Sql, leadId: string, events: readonly LeadEvent[]): readonly string[] {
  const { q } = sql;
  const last = sql.get(
    q
      .selectFrom("events")
      .select((eb) => eb.fn.max("n").as("n"))
      .where("leadId", "=", leadId),
  );
  if (Number(last?.n ?? 0) > reachedBy(sql)) return [];
  const told = accountOf(events);
  const [lead] = sql.all(q.selectFrom("accounts").select(ACCOUNT_COLUMNS).where("leadId", "=", leadId));
  const tries = sql.all(
    q
      .selectFrom("accountTries")
      .select(TRY_COLUMNS)
      .where("leadId", "=", leadId)
      .orderBy("rowid" as never),
  );
  const offers = sql.all(
    q
      .selectFrom("accountOffers")
      .select(OFFER_COLUMNS)
      .where("leadId", "=", leadId)
      .orderBy("rowid" as never),
  );
  const same = (kept: unknown, right: unknown) => isDeepStrictEqual(kept, JSON.parse(JSON.stringify(right)));
  return [
    ...(same(lead ?? null, told?.lead ?? null)
      ? []
      : [`${leadId}: its account is not what its events tell.`]),
    ...(same(tries, told?.tries ?? [])
      ? []
      : [`${leadId}: its tries are not accounted for as its events tell.`]),
    ...(same(offers, told?.offers ?? [])
      ? []
      : [`${leadId}: its offers are not accounted for as its events tell.`]),
  ];
}
