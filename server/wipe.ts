import type { Desk } from "./desk.ts";

/**
 * Remove leads with everything about them: their events, timers, messages, contacts. The one place where something is
 * taken out of the desk again, and only for what was never anybody's work: tests, and imports nobody has touched.
 */
export function wipeLeads(desk: Desk, leadIds: readonly string[]): void {
  const { sql } = desk;
  const { q } = sql;
  sql.transaction(() => {
    for (const id of leadIds) {
      for (const table of ["timers", "outbox", "events", "contacts", "likeKeys"] as const)
        sql.run(q.deleteFrom(table).where("leadId", "=", id));
      sql.run(q.deleteFrom("inquiries").where("leadId", "=", id));
      sql.run(q.deleteFrom("leads").where("id", "=", id));
    }
  });
  desk.looker.reload();
  desk.timers.refresh();
}

/** Remove one test lead. Gives a sentence when it is none. */
export function wipeTest(desk: Desk, leadId: string): { problem: string } | null {
  const lead = desk.looker.lead(leadId);
  if (!lead) return { problem: "There is no lead with that id." };
  if (!lead.test || lead.inquiries > 1)
    return { problem: "Only a lead that was made by a test, and has had nothing else, can be wiped." };
  wipeLeads(desk, [leadId]);
  desk.feed.publish({ n: 0, leadId: null, kinds: ["wiped"] });
  return null;
}
