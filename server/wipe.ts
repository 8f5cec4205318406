import { committer } from "./commit.ts";
import type { Desk } from "./desk.ts";

/** Remove one test lead. Gives a sentence when it is none. */
export function wipeTest(desk: Desk, leadId: string): { problem: string } | null {
  const lead = desk.looker.lead(leadId);
  if (!lead) return { problem: "There is no lead with that id." };
  if (!lead.test || lead.inquiries > 1)
    return { problem: "Only a lead that was made by a test, and has had nothing else, can be wiped." };
  const { sql, looker } = desk;
  sql.transaction(() => {
    // Somebody may have tried a call with it.
    sql.run(sql.q.deleteFrom("calls").where("leadId", "=", leadId));
    sql.run(sql.q.deleteFrom("drafts").where("leadId", "=", leadId));
    committer(sql, looker).wipe(lead);
  });
  looker.reload();
  desk.timers.refresh();
  desk.feed.publish({ n: 0, leadId: null, kinds: ["wiped"] });
  return null;
}
