import type { Schema } from "../db/schema.ts";
import type { Engine } from "../engine/engine.ts";
import type { Office } from "../setup/office.ts";

type Row = Omit<Schema["spend"], "by" | "at">;

/** What sources have cost. */
export class SpendBook {
  readonly #desk: Engine;
  readonly #office: Office;

  constructor(desk: Engine, office: Office) {
    this.#desk = desk;
    this.#office = office;
  }

  /** All that was entered, the latest months first. */
  all(): Schema["spend"][] {
    const { q } = this.#desk.sql;
    return this.#desk.sql.all(
      q.selectFrom("spend").selectAll().orderBy("month", "desc").orderBy("sourceId").orderBy("campaign"),
    );
  }

  /** Keep rows in place of what stands there; an amount of 0 takes it out. All of them or none. */
  keep(rows: readonly Row[], by: string): void {
    const { sql, clock } = this.#desk;
    sql.transaction(() => {
      for (const row of rows) {
        const { q } = sql;
        sql.run(
          q
            .deleteFrom("spend")
            .where("sourceId", "=", row.sourceId)
            .where("campaign", "=", row.campaign)
            .where("month", "=", row.month)
            .where("currency", "=", row.currency),
        );
        if (row.amount > 0) sql.run(q.insertInto("spend").values({ ...row, by, at: clock.now() }));
      }
      this.#office.audit(
        by,
        `Entered what sources cost: ${rows.length === 1 ? "a row" : `${rows.length} rows`}`,
      );
    });
  }
}
