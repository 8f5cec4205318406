import { AsyncLocalStorage } from "node:async_hooks";
import { isOff } from "../../core/policy/people.ts";
import type { RuleSet } from "../../core/policy/routing.ts";
import type { Setup } from "../../core/policy/setup.ts";
import { refuse } from "../../core/refusal.ts";
import { alterations } from "../../core/setup/audit.ts";
import type { Changed } from "../../core/setup/change.ts";
import { publishRules } from "../../core/setup/change-routing.ts";
import type { Engine, Owed } from "../engine/engine.ts";
import type { Roster } from "../people/roster.ts";

export interface AuditEntry {
  readonly n: number;
  readonly at: number;
  readonly by: string | null;
  /** The API key that acted for them, by name. */
  readonly via: string | null;
  readonly what: string;
  readonly before: unknown;
  readonly after: unknown;
}

/** Which changes are asked for: whose, of what (a part of its name), from when and before when (epoch ms). */
export interface AuditFilter {
  readonly by?: string | null;
  readonly about?: string | null;
  readonly from?: number | null;
  readonly before?: number | null;
}

export interface RuleVersion extends RuleSet {
  readonly version: number;
  readonly at: number;
  readonly by: string | null;
  readonly note: string;
}

/** Where policies, people and groups are changed: each change is kept whole, and said in the audit list. */
export class Office {
  readonly #desk: Engine;
  readonly #roster: Roster;
  /** The API key that acts just now. */
  readonly #acting = new AsyncLocalStorage<string | null>();

  constructor(desk: Engine, roster: Roster) {
    this.#desk = desk;
    this.#roster = roster;
    desk.onSetup({ inside: (before, after, by) => this.note(before, after, by) });
  }

  /** Put a change in force, with the sweep of running bells it owes. Gives it back, so that a refusal can be answered. */
  change(by: string, decide: (setup: Setup, now: number) => Changed, owes?: Owed): Changed {
    const changed = decide(this.#desk.setup, this.#desk.clock.now());
    if (changed.ok) this.#desk.changeSetup(changed.setup, by, owes);
    return changed;
  }

  /** Write what differs between two setups into the audit list. Called with every change, inside its transaction. */
  note(before: Setup, after: Setup, by: string | null): void {
    for (const { what, ...detail } of alterations(before, after)) this.audit(by, what, detail);
  }

  /** Do something for an API key, by its name: what is written into the audit list meanwhile names it. */
  actingBy<T>(key: string | null, work: () => T): T {
    return this.#acting.run(key, work);
  }

  audit(by: string | null, what: string, detail: { before?: unknown; after?: unknown } = {}): void {
    const { sql, clock } = this.#desk;
    const { before = null, after = null } = detail;
    sql.run(
      sql.q.insertInto("audit").values({
        at: clock.now(),
        by,
        what,
        detailJson: JSON.stringify({ before, after }),
        via: this.#acting.getStore() ?? null,
      }),
    );
  }

  /** The newest changes; those before `cursor`, when it is given, and of those asked for alone. */
  audits(limit: number, cursor: number | null, asked: AuditFilter = {}): AuditEntry[] {
    const { sql } = this.#desk;
    let all = sql.q.selectFrom("audit").selectAll().orderBy("n", "desc").limit(limit);
    if (cursor !== null) all = all.where("n", "<", cursor);
    if (asked.by) all = all.where("by", "=", asked.by);
    if (asked.from) all = all.where("at", ">=", asked.from);
    if (asked.before) all = all.where("at", "<", asked.before);
    if (asked.about) {
      const about = asked.about.toLowerCase();
      all = all.where((eb) => eb(eb.fn<number>("instr", [eb.fn("lower", ["what"]), eb.val(about)]), ">", 0));
    }
    return sql.all(all).map(({ detailJson, ...entry }) => ({
      ...entry,
      ...(JSON.parse(detailJson) as { before: unknown; after: unknown }),
    }));
  }

  /** Publish the draft of the rules as the next version, which is kept for ever. */
  publish(by: string, note: string): Changed {
    const { sql } = this.#desk;
    return sql.transaction(() => {
      this.#keepVersion(this.#desk.setup, "");
      const changed = this.change(by, (setup, now) => publishRules(setup, by, now));
      if (changed.ok) this.#keepVersion(changed.setup, note.trim());
      return changed;
    });
  }

  /** The version in force, unless it is kept already. */
  #keepVersion({ policies }: Setup, note: string): void {
    const { sql } = this.#desk;
    const { rules, setAside, routing } = policies;
    const row = {
      version: routing.version,
      at: routing.publishedAt,
      by: routing.by,
      note,
      rulesJson: JSON.stringify({ rules, setAside }),
    };
    sql.run(
      sql.q
        .insertInto("ruleVersions")
        .values(row)
        .onConflict((c) => c.doNothing()),
    );
  }

  /** Every version of the rules there has been, the newest first. */
  versions(): RuleVersion[] {
    const { sql, setup } = this.#desk;
    this.#keepVersion(setup, "");
    const rows = sql.all(sql.q.selectFrom("ruleVersions").selectAll().orderBy("version", "desc"));
    return rows.map(({ rulesJson, ...row }) => ({ ...row, ...(JSON.parse(rulesJson) as RuleSet) }));
  }

  /**
   * Switch somebody on or off duty, until a time (epoch ms) or until they say so. What waits on them is seen to by the
   * roster.
   */
  setDuty(personId: string, off: boolean, by: string, until: number | null = null): Changed {
    const desk = this.#desk;
    const { setup, sql, clock } = desk;
    const person = setup.people.find((p) => p.id === personId);
    if (!person || person.left)
      return refuse("nobody-by-that-id", 404, "Nobody by that id", "There is nobody with that id.");
    const at = clock.now();
    if (off && until !== null && until <= at)
      return refuse("in-the-past", 422, "In the past", "Say until when, as a time still to come.", "until");
    const end = off ? until : null;
    if (isOff(person, at) === off && (person.offUntil ?? null) === end) return { ok: true, setup };
    const people = setup.people.map((p) => (p.id === personId ? { ...p, offDuty: off, offUntil: end } : p));
    sql.run(sql.q.insertInto("duty").values({ personId, at, off: off ? 1 : 0, by, until: end }));
    const was = isOff(person, at);
    this.audit(by, `duty of ${person.name}`, {
      before: { offDuty: was, offUntil: was ? (person.offUntil ?? null) : null },
      after: { offDuty: off, offUntil: end },
    });
    desk.looker.setup = { ...setup, people };
    this.#roster.run();
    return { ok: true, setup: desk.setup };
  }
}
