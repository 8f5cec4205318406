import { sql as raw } from "kysely";
import { asWritten } from "../../core/intake/understand.ts";
import type { InquiryRow } from "../db/schema.ts";
import type { Engine } from "../engine/engine.ts";
import type { Office } from "../setup/office.ts";
import type { Intake } from "./intake.ts";
import type { Delivery } from "./payload.ts";
import type { PayloadReader } from "./payload-reader.ts";
import type { InquiryWorker, Manner } from "./worker.ts";

/** What came of trying one again. */
export interface Replayed {
  readonly quarantined: boolean;
  readonly reason: string | null;
  readonly leadId: string | null;
}

/** What arrived and could not be understood, or looked like a robot's: kept whole, and tried again. */
export class Quarantine {
  readonly #engine: Engine;
  readonly #intake: Intake;
  readonly #payloads: PayloadReader;
  readonly #worker: InquiryWorker;
  readonly #office: Office;

  constructor(
    engine: Engine,
    office: Office,
    intake: Intake,
    payloads: PayloadReader,
    worker: InquiryWorker,
  ) {
    this.#engine = engine;
    this.#office = office;
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

  /** Who an inquiry that waits seems to be from and what they want, as it was written; empty where it can't be read. */
  async seems(row: { readonly sourceId: string } & Delivery): Promise<ReturnType<typeof asWritten>> {
    const source = this.#engine.setup.sources.find((s) => s.id === row.sourceId);
    if (!source) return {};
    const parsed = await this.#payloads.read(row);
    return parsed.ok ? asWritten(source, parsed.fields) : {};
  }

  /** It is no inquiry: it waits no longer, is kept as it came, and can be put back. Returns how many there were. */
  dismiss(ids: readonly string[], by: string): number {
    return this.#move(ids, "quarantined", "dismissed", by, "set aside as no inquiry");
  }

  /** What was set aside waits again. */
  putBack(ids: readonly string[], by: string): number {
    return this.#move(ids, "dismissed", "quarantined", by, "put back into quarantine");
  }

  #move(
    ids: readonly string[],
    from: InquiryRow["state"],
    to: InquiryRow["state"],
    by: string,
    said: string,
  ): number {
    const { sql, feed } = this.#engine;
    const moved = sql.transaction(() => {
      const n = sql.run(
        sql.q.updateTable("inquiries").set({ state: to }).where("id", "in", ids).where("state", "=", from),
      );
      if (n > 0) this.#office.audit(by, `${n === 1 ? "an inquiry" : `${n} inquiries`} ${said}`);
      return n;
    });
    feed.publish({ n: 0, leadId: null, kinds: ["quarantine"] });
    return moved;
  }

  /**
   * Try a quarantined inquiry again with what is known now; with `insisted` whatever speaks against it, and with
   * `corrected` by what somebody read it as. Null when it is not in quarantine.
   */
  async replay(
    inquiryId: string,
    manner: Pick<Manner, "insisted" | "corrected"> = {},
  ): Promise<Replayed | null> {
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
      const done = this.#worker.work(inquiryId, source, parsed, manner);
      const first = "plans" in done ? done.plans[0]! : null;
      const change = first
        ? ({
            state: "understood",
            reason: null,
            leadId: first.leadId,
            matched: first.before ? "sure" : "new",
          } as const)
        : // What somebody corrected it to says nothing of what came.
          manner.corrected
          ? { reason: row.reason }
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
