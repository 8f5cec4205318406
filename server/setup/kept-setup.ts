import { withDefaults } from "../../core/policy/defaults.ts";
import type { Setup } from "../../core/policy/setup.ts";
import type { Sql } from "../db/sql.ts";

/** Set-ups as they were kept, the newest first, with whoever is off duty by hand. One that can't be read is left out. */
export function* keptSetups(sql: Sql): Generator<{ at: number; setup: Setup }> {
  const versions = sql.q
    .selectFrom("setup")
    .select(["version", "at", "setupJson"])
    .orderBy("version", "desc")
    .limit(1);
  for (let row = sql.get(versions); row; row = sql.get(versions.where("version", "<", row.version))) {
    const setup = readSetup(row.setupJson);
    if (setup) yield { at: row.at, setup: withDuty(withDefaults(setup), dutyAt(sql, null)) };
  }
}

/** A set-up as it was kept; null when it can't be read. */
export function readSetup(json: string): Setup | null {
  try {
    return JSON.parse(json) as Setup;
  } catch {
    return null;
  }
}

/** The setup kept last; null when there is none yet. */
export function keptSetup(sql: Sql): Setup | null {
  return keptSetups(sql).next().value?.setup ?? null;
}

/** Keep a setup as the newest version. Who is off duty by hand is kept beside it. */
export function keepSetup(sql: Sql, setup: Setup, at: number, by: string | null): void {
  sql.run(
    sql.q.insertInto("setup").values({ at, by, setupJson: JSON.stringify(withDuty(setup, new Map())) }),
  );
}

/** Until when each is off duty by hand (epoch ms; null until they say so); who is on duty stands not in it. */
export type OffDuty = ReadonlyMap<string, number | null>;

/** Who had been switched off by hand by a time; ever, when no time is given. */
export function dutyAt(sql: Sql, at: number | null): OffDuty {
  const all = sql.q.selectFrom("duty").select(["personId", "off", "until"]).orderBy("n");
  const off = new Map<string, number | null>();
  for (const row of sql.all(at === null ? all : all.where("at", "<=", at)))
    if (row.off === 1) off.set(row.personId, row.until);
    else off.delete(row.personId);
  return off;
}

/** The setup with these people off duty and nobody else. */
export function withDuty(setup: Setup, off: OffDuty): Setup {
  const people = setup.people.map((p) => {
    const offDuty = off.has(p.id);
    const offUntil = off.get(p.id) ?? null;
    return p.offDuty === offDuty && (p.offUntil ?? null) === offUntil ? p : { ...p, offDuty, offUntil };
  });
  return { ...setup, people };
}
