import { withDefaults } from "../../core/policy/defaults.ts";
import type { Setup } from "../../core/policy/policy.ts";
import type { Sql } from "../db/sql.ts";

/** The setup in force as it was kept, with whoever is off duty by hand; null when there is none yet. */
export function keptSetup(sql: Sql): Setup | null {
  const newest = sql.q.selectFrom("setup").select("setupJson").orderBy("version", "desc").limit(1);
  const known = sql.get(newest);
  return known ? withDuty(withDefaults(JSON.parse(known.setupJson) as Setup), dutyAt(sql, null)) : null;
}

/** Keep a setup as the newest version. Who is off duty by hand is kept beside it. */
export function keepSetup(sql: Sql, setup: Setup, at: number, by: string | null): void {
  sql.run(
    sql.q.insertInto("setup").values({ at, by, setupJson: JSON.stringify(withDuty(setup, new Map())) }),
  );
}

/** Who had been switched off or on by hand by a time; ever, when no time is given. */
export function dutyAt(sql: Sql, at: number | null): ReadonlyMap<string, boolean> {
  const all = sql.q.selectFrom("duty").select(["personId", "off"]).orderBy("n");
  const rows = sql.all(at === null ? all : all.where("at", "<=", at));
  return new Map(rows.map((r) => [r.personId, r.off === 1]));
}

/** The setup with these people off duty and nobody else. */
export function withDuty(setup: Setup, off: ReadonlyMap<string, boolean>): Setup {
  const people = setup.people.map((p) => {
    const offDuty = off.get(p.id) ?? false;
    return p.offDuty === offDuty ? p : { ...p, offDuty };
  });
  return { ...setup, people };
}
