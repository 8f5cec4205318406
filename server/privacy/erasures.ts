import { rmSync } from "node:fs";
import { dirname, join } from "node:path";
import { sql as raw, type Selectable } from "kysely";
import { evaluate } from "../../core/condition/condition.ts";
import type { Condition } from "../../core/condition/tree.ts";
import { askErase, dropErase } from "../../core/desk/privacy.ts";
import { factsOf } from "../../core/lead/fields.ts";
import type { Lead } from "../../core/lead/lead.ts";
import type { RetentionRule } from "../../core/policy/privacy.ts";
import { type Problem, refuse } from "../../core/refusal.ts";
import { nextWeekly } from "../../core/time/weekly.ts";
import { BEFORE_UPGRADE } from "../db/folder.ts";
import type { ErasureRow } from "../db/schema.ts";
import type { Engine, Result } from "../engine/engine.ts";
import { whereOf } from "../read/where.ts";
import type { Office } from "../setup/office.ts";
import { Recurring } from "../timers/recurring.ts";
import { type ErasedOf, Eraser, type Family } from "./eraser.ts";

/** How often the clock is looked at (ms). */
const NAP = 5_000;
const DAY = 86_400_000;
/** When people are erased, by the desk's clock: while nobody works. */
const NIGHT = "03:00";
/** Whoever asks shortly before a night has until the next one to think again (ms). */
const AT_LEAST = 4 * 3_600_000;
/** So many leads a rule lists in one night. */
const MOST = 2_000;
/** Why somebody who was to be erased is not. */
const BACK = "They have been in touch since, or the lead was opened again.";
/** Whether the file has been written anew since what is deleted is overwritten. */
const CLEAN = "deleted-is-overwritten";

export type Erasure = Selectable<ErasureRow>;

/** A rule as the condition language has it. */
const conditionOf = ({ when, quietDays }: Pick<RetentionRule, "when" | "quietDays">): Condition => ({
  all: [{ field: "quiet", is: "at-least", value: quietDays }, ...(when ? [when] : [])],
});

/** Whoever is to be erased: asked for, listed by a rule, held back, and at night erased. */
export class Erasures extends Recurring {
  readonly #desk: Engine;
  readonly #office: Office;
  readonly #eraser: Eraser;
  #running: Promise<void> | null = null;
  #stopped = false;
  /** Somebody takes it back just now: that is said where it is done. */
  #keeping = false;

  constructor(desk: Engine, office: Office) {
    super(desk, NAP);
    this.#desk = desk;
    this.#office = office;
    this.#eraser = new Eraser(desk);
    this.nextDue = this.#night(desk.clock.now());
    desk.onPlan(({ before, after }) => {
      // They have asked again, or it was opened again or undone: it is no longer to be done.
      const row = before?.erasing && !after.erasing && !after.erased ? this.waitingFor(after.id) : null;
      if (row && !this.#keeping) this.#end(row.id, "kept", { why: BACK });
      if (row) this.#tell();
    });
  }

  #night(after: number): number {
    return nextWeekly({ weekday: null, time: NIGHT }, this.#desk.setup.policies.desk.zone, after);
  }

  /** All leads and contacts that are one person with this lead. */
  family(leadId: string): Family {
    return this.#eraser.family(leadId);
  }

  /** Have somebody erased the next night: closed now, and still to be taken back until then. */
  ask(leadId: string, by: string, because: string): Result {
    const { clock, sql, newId } = this.#desk;
    const now = clock.now();
    const dueAt = this.#night(now + AT_LEAST);
    const result = this.#desk.act(
      leadId,
      (world) => askErase(world, { kind: "person", id: by }, because, dueAt),
      ({ actId }) => {
        // What a rule listed is done by this.
        sql.run(sql.q.deleteFrom("erasures").where("leadId", "=", leadId).where("state", "=", "waiting"));
        const row = {
          id: newId("era"),
          leadId,
          askedAt: now,
          by,
          ruleId: null,
          because: because.trim(),
          dueAt,
          actId,
        };
        sql.run(
          sql.q.insertInto("erasures").values({ ...row, state: "waiting", doneAt: null, saidJson: null }),
        );
        this.#office.audit(by, "asked for a person’s data to be erased", { after: { lead: leadId } });
      },
    );
    if (result.ok) this.#tell();
    return result;
  }

  /** They are kept after all: everything is as it was before somebody asked, where nothing has happened since. */
  keep(id: string, by: string): { readonly ok: true } | { readonly ok: false; readonly problem: Problem } {
    const row = this.get(id);
    if (!row) return refuse("no-such-erasure", 404, "No such thing", "There is nothing to erase by that id.");
    if (row.state !== "waiting")
      return refuse(
        "too-late",
        409,
        "Too late",
        row.state === "done" ? "They were erased: nothing of them is left." : "They are kept already.",
      );
    this.#keeping = true;
    try {
      const wrong = this.#takeBack(row, by);
      if (wrong) return { ok: false, problem: wrong };
    } finally {
      this.#keeping = false;
    }
    this.#end(id, "kept", { why: "Somebody took it back." });
    this.#office.audit(by, "kept a person who was to be erased", { after: { lead: row.leadId } });
    this.#tell();
    return { ok: true };
  }

  /** Everything is as before somebody asked, where nothing has happened since. Gives why it can't be. */
  #takeBack(row: Erasure, by: string): Problem | null {
    if (row.actId) {
      const undone = this.#desk.undo(row.leadId, by, row.actId);
      const kept = undone.ok
        ? undone
        : this.#desk.act(row.leadId, (world) =>
            dropErase(world, { kind: "person", id: by }, "somebody took it back"),
          );
      // Somebody may have opened it again already.
      if (!kept.ok && kept.problem.code !== "nobody-asked") return kept.problem;
    }
    return null;
  }

  get(id: string): Erasure | undefined {
    const { sql } = this.#desk;
    return sql.get(sql.q.selectFrom("erasures").selectAll().where("id", "=", id));
  }

  /** What waits for a lead; null when it is not to be erased. */
  waitingFor(leadId: string): Erasure | null {
    const { sql } = this.#desk;
    const own = sql.q.selectFrom("erasures").selectAll().where("leadId", "=", leadId);
    return sql.get(own.where("state", "=", "waiting").limit(1)) ?? null;
  }

  /** Those in a state, the next or the newest first. */
  list(state: Erasure["state"], limit: number): Erasure[] {
    const { sql } = this.#desk;
    const all = sql.q.selectFrom("erasures").selectAll().where("state", "=", state).limit(limit);
    return sql.all(state === "waiting" ? all.orderBy("dueAt").orderBy("id") : all.orderBy("doneAt", "desc"));
  }

  count(state: Erasure["state"]): number {
    const { sql } = this.#desk;
    const all = sql.q.selectFrom("erasures").select((eb) => eb.fn.countAll<number>().as("n"));
    return Number(sql.get(all.where("state", "=", state))?.n ?? 0);
  }

  /** The leads a rule would list now, the quietest first, `most` at the most; whether it is on or off. */
  wouldErase(rule: Pick<RetentionRule, "id" | "when" | "quietDays">, most = MOST): Lead[] {
    const { sql, setup, clock, looker } = this.#desk;
    const where = whereOf(conditionOf(rule), setup, clock.now());
    const settled = sql.q
      .selectFrom("erasures")
      .select("leadId")
      .where((eb) =>
        eb.or([
          eb("state", "in", ["waiting", "done"]),
          // Held back from this rule once is held back for good.
          eb.and([eb("state", "=", "kept"), eb("ruleId", "=", rule.id)]),
        ]),
      );
    const rows = sql.once(
      sql.q
        .selectFrom("leads")
        .select("id")
        .where(where.sql)
        .where("id", "not in", settled)
        .orderBy("lastActivityAt")
        .limit(where.exact ? most : most * 5),
    );
    const found: Lead[] = [];
    for (const { id } of rows) {
      const lead = looker.lead(id);
      if (!lead || lead.erased || lead.erasing || lead.joinedTo || lead.test) continue;
      if (!where.exact && !where.holds(lead)) continue;
      found.push(lead);
      if (found.length === most) break;
    }
    return found;
  }

  /** It is night: erase who is due, then list whom the rules name. What was missed while the desk was off is made up for. */
  async run(): Promise<void> {
    this.#running = this.#atNight().finally(() => {
      this.#running = null;
    });
    await this.#running;
  }

  async #atNight(): Promise<void> {
    const { sql, clock } = this.#desk;
    const now = clock.now();
    const due = sql.q
      .selectFrom("erasures")
      .selectAll()
      .where("state", "=", "waiting")
      .where("dueAt", "<=", now);
    let isErased = false;
    for (const row of sql.all(due.orderBy("dueAt"))) {
      if (this.#stopped) return;
      isErased = (await this.#eraseOne(row)) || isErased;
    }
    // Also what a kill left of the night before.
    this.#desk.files.sweep();
    if (isErased) await this.#tidy();
    this.#listByRules();
    this.nextDue = this.#night(clock.now());
    this.#tell();
  }

  async #eraseOne(row: Erasure): Promise<boolean> {
    const { looker } = this.#desk;
    const lead = looker.lead(looker.survivor(row.leadId));
    if (!lead || lead.erased) {
      this.#end(row.id, "done", { why: lead ? "Erased with another lead of theirs." : "The lead was gone." });
      return false;
    }
    const why = this.#whyNot(row, lead);
    if (why) {
      this.#end(row.id, "kept", { why });
      return false;
    }
    await this.#eraser.erase(row.leadId, (said) => {
      this.#end(row.id, "done", said);
      this.#office.audit(row.by, "erased a person’s data", { after: { lead: row.leadId } });
    });
    return true;
  }

  /** Why somebody is not erased after all; null when they are. */
  #whyNot({ ruleId }: Erasure, lead: Lead): string | null {
    const { setup, clock } = this.#desk;
    if (!ruleId) return lead.erasing ? null : BACK;
    const rule = setup.policies.privacy.rules.find((r) => r.id === ruleId);
    if (!rule || rule.off) return "The rule is not in force any more.";
    return evaluate(conditionOf(rule), factsOf(lead, setup, clock.now()))
      ? null
      : "Something has happened to them since, and the rule does not fit any more.";
  }

  #listByRules(): void {
    const { sql, setup, clock, newId } = this.#desk;
    const now = clock.now();
    const { rules, noticeDays } = setup.policies.privacy;
    const dueAt = this.#night(now + noticeDays * DAY);
    for (const rule of rules) {
      if (rule.off) continue;
      const leads = this.wouldErase(rule);
      sql.transaction(() => {
        for (const { id: leadId } of leads)
          sql.run(
            sql.q.insertInto("erasures").values({
              ...{
                id: newId("era"),
                leadId,
                askedAt: now,
                by: null,
                ruleId: rule.id,
                because: rule.name,
                dueAt,
              },
              ...{ state: "waiting", actId: null, doneAt: null, saidJson: null },
            }),
          );
      });
    }
  }

  #end(id: string, state: "done" | "kept", said: ErasedOf | { readonly why: string }): void {
    const { sql, clock } = this.#desk;
    const change = { state, doneAt: clock.now(), saidJson: JSON.stringify(said), actId: null };
    // Why somebody asked may say who it was.
    const words =
      state === "done" ? { because: raw<string>`case when ruleId is null then '' else because end` } : {};
    sql.run(
      sql.q
        .updateTable("erasures")
        .set({ ...change, ...words })
        .where("id", "=", id),
    );
  }

  /** What was deleted goes from the index and the log as well; a file from before deleting overwrote is written anew once. */
  async #tidy(): Promise<void> {
    const { sql, kept, log } = this.#desk;
    await this.#eraser.mergeIndex(() => this.#stopped);
    // It knows them still, and has been of no use since the newer shape proved itself.
    rmSync(join(dirname(sql.path), BEFORE_UPGRADE), { force: true });
    if (kept.counter(CLEAN) === null) {
      sql.vacuum();
      kept.setCounter(CLEAN, this.#desk.clock.now());
    }
    if (!sql.emptyLog())
      log.warn("the log could not be emptied: somebody reads from it; the next night does it");
  }

  #tell(): void {
    this.#desk.feed.publish({ n: 0, leadId: null, kinds: ["privacy"] });
  }

  /** Nothing more begins; who is being erased just now is waited for. */
  async close(): Promise<void> {
    this.#stopped = true;
    this.stop();
    await this.#running?.catch(() => undefined);
  }
}
