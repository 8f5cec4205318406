import { sql as raw } from "kysely";
import { foldRecords } from "../../core/book/events.ts";
import { foldAll } from "../../core/lead/fold.ts";
import { starter } from "../../core/policy/starter.ts";
import { MovableClock } from "../clock.ts";
import { Sql } from "../db/sql.ts";
import { committer } from "../engine/commit.ts";
import { Looker } from "../engine/looker.ts";
import { idMaker } from "../ids.ts";
import { Reader } from "../read/reader.ts";
import { storedSetup } from "../setup/stored-setup.ts";

/** What was taken back. */
export interface Rewound {
  /** Leads that had not come yet, and those that are as they were. */
  readonly gone: number;
  readonly changed: number;
  readonly events: number;
}

/** A lead that is found by nothing, as long as it is written. */
const FOUND_BY_NOTHING = { phones: [], emails: [], shared: [], name: null, company: null };

/** What was written down with its time and is no event of anybody's. */
const SINCE = [
  ["inquiries", "receivedAt"],
  ["outbox", "createdAt"],
  ["hookDeliveries", "at"],
  ["audit", "at"],
  ["calls", "at"],
  ["drafts", "at"],
  ["duty", "at"],
  ["imports", "at"],
  ["experiments", "at"],
  ["erasures", "askedAt"],
  ["openLinks", "at"],
  ["apiKeys", "at"],
  ["ruleVersions", "at"],
] as const;

/**
 * Take a desk that is not running back to a moment (epoch ms), as far as events go: what happened later is gone, leads and the book are
 * folded from what is left, and the set-up is the one that held. What messages had become by then, turns of rotations and numbers of
 * estimates stay as they are at the end: they are told by no event.
 */
export async function rewind(path: string, at: number): Promise<Rewound> {
  const sql = await Sql.open(path, { references: false });
  try {
    return sql.transaction(() => rewound(sql, at));
  } finally {
    sql.close();
  }
}

function rewound(sql: Sql, at: number): Rewound {
  const { q } = sql;
  const clock = new MovableClock(at, { frozen: true });
  sql.run(
    q
      .deleteFrom("setup")
      .where("at", ">", at)
      // A desk always has one.
      .where(
        "version",
        ">",
        q.selectFrom("setup").select((eb) => eb.fn.min<number>("version").as("v")),
      ),
  );
  const { setup } = storedSetup(sql, starter(at), at);
  const looker = new Looker(sql, clock, idMaker(clock), setup);
  const { wipe, rewrite } = committer(sql, looker);
  const reader = new Reader(sql, looker.leads);
  let [gone, changed, events] = [0, 0, 0];
  const later = sql
    .all(q.selectFrom("events").select("leadId").distinct().where("at", ">", at))
    .flatMap(({ leadId }) => looker.lead(leadId) ?? []);
  // By what they are found is written anew: of two that were joined since, each has its own again.
  for (const { id } of later)
    for (const table of ["contacts", "likeKeys"] as const)
      sql.run(q.deleteFrom(table).where("leadId", "=", id));
  for (const before of later) {
    const { id: leadId } = before;
    const all = reader.events(leadId);
    const kept = all.filter((e) => e.at <= at);
    events += all.length - kept.length;
    const after = foldAll(kept);
    if (after) {
      sql.run(q.deleteFrom("events").where("leadId", "=", leadId).where("seq", ">", after.seq));
      rewrite({ ...before, ...FOUND_BY_NOTHING }, after, []);
      changed++;
    } else {
      wipe(before);
      gone++;
    }
  }
  rewindBook(sql, looker, at);
  for (const [table, column] of SINCE)
    sql.run({
      compile: () => raw`delete from ${raw.table(table)} where ${raw.ref(column)} > ${at}`.compile(q),
    });
  // What follows the log of events is made again from it.
  for (const name of ["search-up-to", "figures-up-to"])
    sql.run(q.deleteFrom("counters").where("name", "=", name));
  for (const table of [
    "accounts",
    "accountTries",
    "accountOffers",
    "searchDocs",
    "searchOwn",
    "searchGaps",
  ] as const)
    sql.run(q.deleteFrom(table));
  for (const table of ["searchKnown", "searchWrote"] as const)
    sql.run({
      compile: () => raw`insert into ${raw.table(table)}(${raw.ref(table)}) values ('delete-all')`.compile(q),
    });
  return { gone, changed, events };
}

function rewindBook(sql: Sql, { book }: Looker, at: number): void {
  const { q } = sql;
  const later = q.selectFrom("bookEvents").select("recordId").distinct().where("at", ">", at);
  for (const { recordId } of sql.all(later)) {
    const before = book.record(recordId);
    const kept = book.events(recordId).filter((e) => e.at <= at);
    const after = foldRecords(kept);
    sql.run(q.deleteFrom("bookEvents").where("recordId", "=", recordId).where("at", ">", at));
    if (before && after) book.rewrite(before, after, []);
    else {
      sql.run(q.deleteFrom("recordKeys").where("recordId", "=", recordId));
      sql.run(q.deleteFrom("records").where("id", "=", recordId));
    }
  }
}
