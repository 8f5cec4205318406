import type { Engine } from "../engine/engine.ts";

/** Numbers and addresses that nothing automatic goes to. */
export class Suppressions {
  readonly #engine: Engine;

  constructor(engine: Engine) {
    this.#engine = engine;
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
    const added = sql.transaction(() =>
      values.reduce(
        (n, value) =>
          n +
          sql.run(
            sql.q
              .insertInto("suppressed")
              .values({ value, at, by, reason })
              .onConflict((c) => c.doNothing()),
          ),
        0,
      ),
    );
    looker.reload();
    return added;
  }

  /** False when it was not on the list. */
  remove(value: string): boolean {
    const { sql, looker } = this.#engine;
    const gone = sql.run(sql.q.deleteFrom("suppressed").where("value", "=", value)) > 0;
    looker.reload();
    return gone;
  }
}
