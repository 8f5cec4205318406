import { type Learned, learn } from "../../core/lab/experiment.ts";
import type { LeadEvent } from "../../core/lead/events.ts";
import type { Setup } from "../../core/policy/setup.ts";
import type { Sql } from "../db/sql.ts";
import { AccountsOnDisk } from "../figures/memory.ts";
import { Beside } from "../figures/questions.ts";

/** Kinds of events the lab learns from. */
const TELLS: readonly LeadEvent["kind"][] = ["inquiry", "offered", "taken", "passed", "lapsed"];

/** What the record of a span says of who comes and how everybody acts. The accounts must have come up to the last event. */
export function learnFrom(
  sql: Sql,
  setup: Setup,
  span: { readonly from: number; readonly to: number },
): Learned {
  const { q } = sql;
  const rows = sql.iterate(
    q
      .selectFrom("events")
      .select(["leadId", "seq", "actId", "at", "actorJson", "kind", "dataJson"])
      .where("at", ">=", span.from)
      .where("at", "<", span.to)
      .where("kind", "in", TELLS)
      .orderBy("n"),
  );
  function* events(): Iterable<LeadEvent> {
    for (const { actorJson, dataJson, ...rest } of rows)
      yield { ...rest, id: "", actor: JSON.parse(actorJson), data: JSON.parse(dataJson) } as LeadEvent;
  }
  const disk = new AccountsOnDisk(sql);
  const asked = { ...span, now: span.to };
  const won = new Beside(sql).won();
  const reached = disk.accounts(asked).filter((a) => a.talkedAt !== null);
  return learn(
    events(),
    disk.tries(asked),
    { reached: reached.length, won: reached.filter((a) => won(a) !== null).length },
    setup,
  );
}
