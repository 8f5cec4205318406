import { sql as raw } from "kysely";
import type { Engine } from "../engine/engine.ts";
import type { Intake } from "./intake.ts";
import type { PayloadReader } from "./payload-reader.ts";
import type { InquiryWorker } from "./worker.ts";

/** What arrived and could not be understood, or looked like a robot's: kept whole, and tried again. */
export class Quarantine {
  readonly #engine: Engine;
  readonly #intake: Intake;
  readonly #payloads: PayloadReader;
  readonly #worker: InquiryWorker;

  constructor(engine: Engine, intake: Intake, payloads: PayloadReader, worker: InquiryWorker) {
    this.#engine = engine;
    this.#intake = intake;
    this.#payloads = payloads;
    this.#worker = worker;
  }

  /** How many inquiries wait there. */
  count(): number {
    const { sql } = this.#engine;
    const waiting = sql.q.selectFrom("inquiries").where("state", "=", raw.lit("quarantined"));
    return Number(sql.get(waiting.select((eb) => eb.fn.countAll<number>().as("n")))?.n ?? 0);
  }

  /** Try a quarantined inquiry again with what is known now. Null when it is not in quarantine. */
  async replay(
    inquiryId: string,
    insisted = false,
  ): Promise<{ quarantined: boolean; reason: string | null; leadId: string | null } | null> {
    const { q } = this.#engine.sql;
    const row = this.#engine.sql.get(
      q
        .selectFrom("inquiries")
        .selectAll()
        .where("id", "=", inquiryId)
        .where("state", "=", raw.lit("quarantined")),
    );
    const source = row && this.#engine.setup.sources.find((s) => s.id === row.sourceId);
    if (!row || !source) return null;
    const headers = JSON.parse(row.headersJson) as Record<string, string>;
    const parsed = await this.#payloads.read({ contentType: row.contentType, headers, raw: row.raw });
    const made = this.#engine.sql.transaction(() => {
      // Only from quarantine: two replays at once make one lead.
      if (!this.#intake.isQuarantined(inquiryId)) return null;
      const done = this.#worker.work(inquiryId, source, parsed, { insisted });
      const first = "plans" in done ? done.plans[0]! : null;
      const change = first
        ? ({
            state: "understood",
            reason: null,
            leadId: first.leadId,
            matched: first.before ? "sure" : "new",
          } as const)
        : { reason: "reason" in done ? done.reason : null, held: "held" in done && done.held ? 1 : 0 };
      this.#engine.sql.run(q.updateTable("inquiries").set(change).where("id", "=", inquiryId));
      return done;
    });
    if (!made) return null;
    if ("plans" in made) this.#engine.tellOf(made.plans, made.n);
    return {
      quarantined: !("plans" in made),
      reason: "reason" in made ? made.reason : null,
      leadId: "plans" in made ? made.plans[0]!.leadId : null,
    };
  }
}
