import type { Engine } from "../engine/engine.ts";
import type { Office } from "../setup/office.ts";

/** What the list is called where changes are listed. */
const LIST = "who must not be written to";

/** Numbers and addresses that nothing automatic goes to. */
export class Suppressions {
  readonly #engine: Engine;

  readonly #office: Office;

  constructor(engine: Engine, office: Office) {
    this.#engine = engine;
    this.#office = office;
  }

  /** The newest first. */
  list(limit = 500) {
    const { sql } = this.#engine;
    return sql.all(sql.q.selectFrom("suppressed").selectAll().orderBy("at", "desc").limit(limit));
  }

  /** Put numbers and addresses on the list of those nothing automatic goes to. Returns how many are new. */
  add(values: readonly string[], reason: string, by: string | null): number {
    const { sql, clock, looker } = this.#engine;
    const at = clock.now();
    const added = sql.transaction(() => {
      const fresh = values.filter((value) => {
        const row = sql.q.insertInto("suppressed").values({ value, at, by, reason });
        return sql.run(row.onConflict((c) => c.doNothing())) > 0;
      });
      if (fresh.length > 0) this.#office.audit(by, LIST, { after: { reason, added: fresh } });
      return fresh.length;
    });
    looker.reload();
    return added;
  }

  /** False when it was not on the list. */
  remove(value: string, by: string | null): boolean {
    const { sql, looker } = this.#engine;
    const gone = sql.transaction(() => {
      const removed = sql.run(sql.q.deleteFrom("suppressed").where("value", "=", value)) > 0;
      if (removed) this.#office.audit(by, LIST, { before: { removed: [value] } });
      return removed;
    });
    looker.reload();
    return gone;
  }
}
