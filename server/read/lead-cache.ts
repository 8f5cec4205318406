import type { Lead } from "../../core/lead/lead.ts";
import { unpackLead } from "../../core/lead/pack.ts";
import type { Sql } from "../db/sql.ts";

/** How many leads are remembered at most, in two generations: what was not asked for in the last one is forgotten. */
const MOST = 8_000;

/**
 * Leads as they were read last. A lead with the same number of events is the same lead, so asking for the number spares
 * reading the text. Must be cleared when a transaction was rolled back: what it had written may have been read.
 */
export class LeadCache {
  #known = new Map<string, Lead>();
  #before = new Map<string, Lead>();
  readonly #seq;
  readonly #json;

  constructor(sql: Sql) {
    this.#seq = sql.hot(sql.q.selectFrom("leads").select("seq").where("id", "=", ""));
    this.#json = sql.hot(sql.q.selectFrom("leads").select("leadJson").where("id", "=", ""));
  }

  /** The lead with that id, or null. `seq` is its number of events, where the caller has read it already. */
  get(id: string, seq: number | undefined = this.#seq.get(id)?.seq): Lead | null {
    if (seq === undefined) return null;
    const known = this.#known.get(id);
    if (known?.seq === seq) return known;
    const older = this.#before.get(id);
    if (older?.seq === seq) return this.put(older);
    const row = this.#json.get(id);
    return row ? this.put(unpackLead(row.leadJson)) : null;
  }

  /** Remember a lead as it has just been read or written. */
  put(lead: Lead): Lead {
    if (this.#known.size >= MOST / 2) {
      this.#before = this.#known;
      this.#known = new Map();
    }
    this.#known.set(lead.id, lead);
    return lead;
  }

  clear(): void {
    this.#known.clear();
    this.#before.clear();
  }
}
