import { called } from "../core/lead/called.ts";
import type { Desk } from "./desk.ts";
import { wipeInside } from "./engine/wipe.ts";

/** Remove one test lead by hand. Gives a sentence when it is none. */
export function wipeTest(desk: Desk, leadId: string, by: string): { problem: string } | null {
  const { sql, looker } = desk;
  const lead = looker.lead(leadId);
  if (!lead) return { problem: "There is no lead with that id." };
  if (!lead.test || lead.joinedTo)
    return { problem: "Only a lead that was made by a test, and has had nothing else, can be wiped." };
  sql.transaction(() => {
    desk.office.audit(by, `wiped the test ${called(lead)}`);
    wipeInside({ sql, looker, wipe: desk.wipe }, leadId);
  });
  looker.reload();
  desk.timers.refresh();
  desk.feed.publish({ n: 0, leadId: null, kinds: ["wiped"] });
  return null;
}
