import { letGo } from "../../core/desk/send.ts";
import { replyCeiling } from "../../core/message/ceiling.ts";
import type { Engine } from "../engine/engine.ts";
import type { Office } from "../setup/office.ts";

/** Leads of one turn; between two, requests get theirs. */
const SLICE = 50;

/** First replies that wait for a person, since a source answered more strangers than it ever brings. */
export class HeldReplies {
  readonly #desk: Engine;
  readonly #office: Office;

  constructor(desk: Engine, office: Office) {
    this.#desk = desk;
    this.#office = office;
  }

  /** How many leads wait for their first reply, by source, with the most it sends on its own in an hour. */
  counts(): { readonly sourceId: string; readonly leads: number; readonly most: number }[] {
    const { sql, setup, looker } = this.#desk;
    const held = sql.q
      .selectFrom("heldReplies")
      .select(["sourceId", (eb) => eb.fn.countAll<number>().as("leads")])
      .groupBy("sourceId");
    return sql.all(held).map(({ sourceId, leads }) => ({
      sourceId,
      leads: Number(leads),
      most: replyCeiling(looker.usualOf(sourceId), setup.policies.restraint.perSourceHour),
    }));
  }

  /** Let all of a source go, or drop them, each for itself. Gives how many leads it was. */
  async release(sourceId: string, send: boolean, by: string): Promise<number> {
    const desk = this.#desk;
    const { sql, setup } = desk;
    const ids = sql.all(sql.q.selectFrom("heldReplies").select("leadId").where("sourceId", "=", sourceId));
    let done = 0;
    for (const [i, { leadId }] of ids.entries()) {
      if (desk.act(leadId, (world) => letGo(world, by, send)).ok) done++;
      if (i % SLICE === SLICE - 1) await new Promise((resolve) => setImmediate(resolve));
    }
    const name = setup.sources.find((s) => s.id === sourceId)?.name ?? "a source no longer here";
    if (done > 0)
      this.#office.audit(by, `held replies of ${name}`, {
        before: `${done} held`,
        after: send ? "sent" : "dropped",
      });
    desk.feed.publish({ n: 0, leadId: null, kinds: ["trouble"] });
    return done;
  }
}
