import { sql as raw } from "kysely";
import type { Lead } from "../../core/lead/lead.ts";
import type { Sql } from "../db/sql.ts";
import type { LeadCache } from "./lead-cache.ts";

/** Leads that are tests, by id: few, and none older than a day. They count in no figure. */
export function testLeads(sql: Sql, leads: LeadCache): ReadonlyMap<string, Lead> {
  // A literal, so that the index of tests alone is used.
  const tested = sql.q.selectFrom("inquiries").select("leadId").distinct();
  const rows = sql.all(tested.where(raw<boolean>`test = 1`).where("leadId", "is not", null));
  return new Map(
    rows.flatMap(({ leadId }) => {
      const lead = leads.get(leadId!);
      return lead?.test ? [[lead.id, lead] as const] : [];
    }),
  );
}
