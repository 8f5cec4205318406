import type { Engine } from "../engine/engine.ts";

/** What somebody has begun to write to a lead. */
export interface BegunMessage {
  readonly channel: "email" | "text";
  readonly subject: string;
  readonly body: string;
  readonly templateId: string | null;
}

/** What people have begun to write, kept until it is sent or thrown away. */
export class Drafts {
  readonly #engine: Engine;

  constructor(engine: Engine) {
    this.#engine = engine;
  }

  /** What this person has begun to write to the lead; null for nothing. */
  of(personId: string, leadId: string): BegunMessage | null {
    const { sql } = this.#engine;
    const row = sql.get(
      sql.q
        .selectFrom("drafts")
        .select("draftJson")
        .where("personId", "=", personId)
        .where("leadId", "=", leadId),
    );
    return row ? (JSON.parse(row.draftJson) as BegunMessage) : null;
  }

  /** Keep a draft; one with nothing in it is forgotten. */
  keep(personId: string, leadId: string, draft: BegunMessage): void {
    const { sql, clock } = this.#engine;
    if (!draft.body.trim() && !draft.subject.trim()) {
      sql.run(sql.q.deleteFrom("drafts").where("personId", "=", personId).where("leadId", "=", leadId));
      return;
    }
    const row = { at: clock.now(), draftJson: JSON.stringify(draft) };
    sql.run(
      sql.q
        .insertInto("drafts")
        .values({ personId, leadId, ...row })
        .onConflict((c) => c.columns(["personId", "leadId"]).doUpdateSet(row)),
    );
  }
}
