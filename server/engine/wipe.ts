import type { Sql } from "../db/sql.ts";
import type { Committer } from "./commit.ts";
import type { Looker } from "./looker.ts";

interface Parts {
  readonly sql: Sql;
  readonly looker: Looker;
  readonly wipe: Committer["wipe"];
}
/**
 * Take a test lead out with everything about it, and the tests that were joined to it. Call it inside a transaction, and
 * reload the looker after it. Does nothing when it is no test any more.
 */
export function wipeInside({ sql, looker, wipe }: Parts, leadId: string): void {
  const lead = looker.lead(leadId);
  if (!lead?.test) return;
  const { q } = sql;
  const joined = q.selectFrom("events").select("dataJson").where("leadId", "=", leadId);
  const others = sql
    .all(joined.where("kind", "=", "joined"))
    .map(({ dataJson }) => looker.lead((JSON.parse(dataJson) as { leadId: string }).leadId));
  for (const gone of [lead, ...others.filter((l) => l?.joinedTo === leadId && l.test)]) {
    if (!gone) continue;
    // Somebody may have tried a call with it.
    sql.run(q.deleteFrom("calls").where("leadId", "=", gone.id));
    sql.run(q.deleteFrom("drafts").where("leadId", "=", gone.id));
    wipe(gone);
  }
}
