import { sql as raw } from "kysely";
import { whyNot } from "../../core/cadence/course.ts";
import { cadenceOf } from "../../core/cadence/run.ts";
import { evaluate } from "../../core/condition/condition.ts";
import type { Condition } from "../../core/condition/tree.ts";
import { mayUpgrade, startCadence, upgradeRun } from "../../core/desk/cadence.ts";
import type { Plan } from "../../core/desk/plan.ts";
import { factsOf } from "../../core/lead/fields.ts";
import type { Lead } from "../../core/lead/lead.ts";
import type { CadencePlan } from "../../core/policy/cadence.ts";
import { type Refused, refuse } from "../../core/refusal.ts";
import {
  type CadenceEvent,
  cadenceFigures,
  type FigureKey,
  leadsBehind,
  type MessageFates,
} from "../../core/report/cadence-figures.ts";
import type { Changed } from "../../core/setup/change.ts";
import { dropCadenceDraft, publishCadence, removeCadence } from "../../core/setup/change-cadences.ts";
import type { Engine } from "../engine/engine.ts";
import { leadsOf } from "../import/slices.ts";
import { testLeads } from "../read/tests.ts";
import type { Office } from "../setup/office.ts";

/** The longest one stretch of a big job keeps the desk (ms); between two, requests get their turn. */
const TURN = 60;
/** So many leads one job takes at most. */
const MOST = 100_000;
/** So long a job is remembered (ms). */
const KEPT = 3_600_000;

/** A kind of event as a literal: only so is the index of events of cadences used. */
const KINDS = raw<boolean>`kind in ('cadence-started','cadence-touched','cadence-paused','cadence-resumed','cadence-stopped','cadence-done')`;

/** Who a cadence is to begin with. */
export interface StartMany {
  readonly cadenceId: string;
  readonly ids?: readonly string[] | undefined;
  readonly where?: Condition | undefined;
  readonly importId?: string | undefined;
  readonly spreadMinutes?: number | undefined;
}

/** Who could begin and who could not, and why. */
export interface WhoStarts {
  readonly will: readonly string[];
  readonly wont: readonly { readonly reason: string; readonly n: number }[];
}

export interface StartJob {
  readonly id: string;
  readonly at: number;
  state: "running" | "done" | "failed";
  done: number;
  readonly total: number;
  started: number;
  said: string;
}

/** What is asked of cadences as a whole: who stands where, what they came to, versions, and beginning one with many. */
export class Cadences {
  readonly #desk: Engine;
  readonly #office: Office;
  readonly #jobs = new Map<string, StartJob>();
  #stopped = false;
  #working: Promise<void> = Promise.resolve();

  constructor(desk: Engine, office: Office) {
    this.#desk = desk;
    this.#office = office;
  }

  stop(): Promise<void> {
    this.#stopped = true;
    return this.#working;
  }

  /** How many are in each cadence, by version and touch (`n`, from 0); tests do not count. */
  standing(): { cadenceId: string; version: number; n: number; state: string; leads: number }[] {
    const { sql, looker } = this.#desk;
    const tests = [...testLeads(sql, looker.leads).keys()];
    let all = sql.q
      .selectFrom("cadenceLeads")
      .select(["cadenceId", "version", "n", "state", (eb) => eb.fn.countAll<number>().as("leads")])
      .groupBy(["cadenceId", "version", "n", "state"]);
    if (tests.length > 0) all = all.where("leadId", "not in", tests);
    return sql.all(all).map((row) => ({ ...row, leads: Number(row.leads) }));
  }

  /** Versions of a cadence somebody is in. */
  inUse(cadenceId: string): ReadonlySet<number> {
    const { sql } = this.#desk;
    const rows = sql.all(
      sql.q.selectFrom("cadenceLeads").select("version").distinct().where("cadenceId", "=", cadenceId),
    );
    return new Set(rows.map((r) => r.version));
  }

  /** Who is in a cadence now, at one of its touches (from 0) where that is given. */
  leadsIn(cadenceId: string, n: number | null, limit: number): Lead[] {
    const { sql, looker } = this.#desk;
    let rows = sql.q
      .selectFrom("cadenceLeads")
      .select("leadId")
      .where("cadenceId", "=", cadenceId)
      .limit(limit);
    if (n !== null) rows = rows.where("n", "=", n);
    return sql.all(rows).flatMap(({ leadId }) => looker.lead(leadId) ?? []);
  }

  /** Put a draft in force. Versions somebody is in are kept. */
  publish(cadenceId: string, by: string): Changed {
    return this.#desk.sql.transaction(() =>
      this.#office.change(by, (setup, now) => publishCadence(setup, cadenceId, now, this.inUse(cadenceId))),
    );
  }

  /** Remove a cadence nobody is in. */
  remove(cadenceId: string, by: string): Changed {
    return this.#office.change(by, (setup) => removeCadence(setup, cadenceId, this.inUse(cadenceId)));
  }

  dropDraft(cadenceId: string, by: string): Changed {
    return this.#office.change(by, (setup) => dropCadenceDraft(setup, cadenceId));
  }

  /** How many of those in earlier versions could go on by the newest. */
  upgradable(cadenceId: string): string[] {
    const { looker, setup } = this.#desk;
    return this.leadsIn(cadenceId, null, MOST)
      .filter((lead) => lead.cadences.some((r) => r.cadenceId === cadenceId && mayUpgrade(setup, r)))
      .map((lead) => looker.survivor(lead.id));
  }

  /** Move those who have not passed a changed touch to the newest version. Gives how many. */
  upgrade(cadenceId: string): number {
    let moved = 0;
    for (const leadId of this.upgradable(cadenceId)) {
      const run = this.#desk.looker.lead(leadId)?.cadences.find((r) => r.cadenceId === cadenceId && !r.ended);
      if (run && this.#desk.act(leadId, (world) => upgradeRun(world, run.id)).ok) moved++;
    }
    return moved;
  }

  #events(cadenceId: string): CadenceEvent[] {
    const { sql, looker } = this.#desk;
    const tests = testLeads(sql, looker.leads);
    const rows = sql.all(
      sql.q
        .selectFrom("events")
        .select(["leadId", "at", "kind", "dataJson"])
        .where(raw<string>`json_extract(dataJson, '$.cadenceId')`, "=", cadenceId)
        .where(KINDS)
        .orderBy("n"),
    );
    return rows
      .filter(({ leadId }) => !tests.has(leadId))
      .map(({ dataJson, ...row }) => ({ ...row, data: JSON.parse(dataJson) }) as CadenceEvent);
  }

  /** What is known of the messages these events sent. */
  #fates(events: readonly CadenceEvent[]): MessageFates {
    const { sql } = this.#desk;
    const ids = events.flatMap((e) =>
      e.kind === "cadence-touched" && e.data.messageId ? [e.data.messageId] : [],
    );
    const listed = JSON.stringify(ids);
    const among = raw<boolean>`id in (select value from json_each(${listed}))`;
    const gone = sql.all(
      sql.q.selectFrom("outbox").select("id").where("state", "in", ["sent", "delivered"]).where(among),
    );
    const clicked = sql.all(
      sql.q
        .selectFrom("shortLinks")
        .select("messageId")
        .where("clicks", ">", 0)
        .where(raw<boolean>`messageId in (select value from json_each(${listed}))`),
    );
    const delivered = new Set(gone.map((r) => r.id));
    const opened = new Set(clicked.map((r) => r.messageId));
    return { delivered: (id) => delivered.has(id), opened: (id) => opened.has(id) };
  }

  /** When each of these leads opted out of anything. */
  #optOuts(events: readonly CadenceEvent[]): ReadonlyMap<string, readonly number[]> {
    const { looker } = this.#desk;
    const found = new Map<string, readonly number[]>();
    for (const leadId of new Set(events.map((e) => e.leadId))) {
      const stops = looker.lead(leadId)?.stops ?? [];
      if (stops.length > 0)
        found.set(
          leadId,
          stops.map((s) => s.at),
        );
    }
    return found;
  }

  /** What a cadence has come to, by version and touch. */
  figures(cadenceId: string) {
    const events = this.#events(cadenceId);
    const cadence = cadenceOf(this.#desk.setup, cadenceId);
    const plans: [number, CadencePlan][] = [
      ...(cadence?.kept ?? []).map(({ version, plan }): [number, CadencePlan] => [version, plan]),
      ...(cadence?.live ? [[cadence.version, cadence.live] as [number, CadencePlan]] : []),
    ];
    const touches = new Map(plans.map(([version, plan]) => [version, plan.touches.length]));
    return cadenceFigures(
      events,
      touches,
      this.#fates(events),
      this.#optOuts(events),
      this.#desk.clock.now(),
    );
  }

  /** The leads behind a figure of a touch (from 1), the latest first. */
  behind(cadenceId: string, version: number, n: number, key: FigureKey): Lead[] {
    const events = this.#events(cadenceId);
    return leadsBehind(events, version, n, key, this.#fates(events), this.#optOuts(events)).flatMap(
      (id) => this.#desk.looker.lead(id) ?? [],
    );
  }

  #asked({ ids, where, importId }: StartMany): readonly string[] {
    const { sql } = this.#desk;
    if (ids) return [...new Set(ids)].slice(0, MOST);
    if (importId) {
      return [...new Set([...leadsOf(sql, importId)].map(([, leadId]) => leadId))].slice(0, MOST);
    }
    if (!where) return [];
    return sql.all(sql.q.selectFrom("leads").select("id").where("place", "<>", "closed")).map((r) => r.id);
  }

  /** Who would begin, and who would be left out and why: a stretch at a time, so that nobody waits for it. */
  async whoStarts(wish: StartMany): Promise<WhoStarts | Refused> {
    const { looker, clock } = this.#desk;
    const cadence = cadenceOf(this.#desk.setup, wish.cadenceId);
    if (!cadence)
      return refuse("no-such-cadence", 404, "No such cadence", "There is no cadence with that id.");
    const { where } = wish;
    const will: string[] = [];
    const wont = new Map<string, number>();
    let begun = performance.now();
    for (const id of this.#asked(wish)) {
      if (will.length >= MOST || this.#stopped) break;
      if (performance.now() - begun > TURN) {
        await new Promise((resolve) => setImmediate(resolve));
        begun = performance.now();
      }
      const lead = looker.lead(id);
      if (where && !(lead && evaluate(where, factsOf(lead, this.#desk.setup, clock.now())))) continue;
      const reason = lead ? whyNot(cadence, lead) : "there is no such lead";
      if (reason === null) will.push(id);
      else wont.set(reason, (wont.get(reason) ?? 0) + 1);
    }
    return { will, wont: [...wont].map(([reason, n]) => ({ reason, n })) };
  }

  /** Begin a cadence with many, beside everything else: a stretch at a time, each lead as if alone. */
  startMany(wish: StartMany, will: readonly string[], by: string): StartJob {
    const { newId, clock } = this.#desk;
    const job: StartJob = {
      id: newId("job"),
      at: clock.now(),
      state: "running",
      done: 0,
      total: will.length,
      started: 0,
      said: "",
    };
    for (const [id, old] of this.#jobs) if (old.at < job.at - KEPT) this.#jobs.delete(id);
    this.#jobs.set(job.id, job);
    this.#working = this.#working.then(() => this.#work(job, will, wish, by));
    return job;
  }

  job(id: string): StartJob | null {
    return this.#jobs.get(id) ?? null;
  }

  async #work(job: StartJob, ids: readonly string[], wish: StartMany, by: string): Promise<void> {
    const { sql, looker, log } = this.#desk;
    try {
      for (let at = 0; at < ids.length && !this.#stopped; ) {
        const begun = performance.now();
        const plans: Plan[] = [];
        let n = 0;
        sql.transaction(() => {
          for (; at < ids.length && performance.now() - begun < TURN; at++) {
            const { cadenceId, spreadMinutes } = wish;
            const decided = startCadence(looker.look(ids[at]!), by, { cadenceId, spreadMinutes });
            if (!decided.ok) continue;
            n = this.#desk.commit(decided.plan);
            plans.push(decided.plan);
          }
        });
        this.#desk.tellOf(plans, n);
        job.done = at;
        job.started += plans.length;
        await new Promise((resolve) => setImmediate(resolve));
      }
      job.state = "done";
      job.said = `${job.started} began.`;
    } catch (error) {
      looker.reload();
      log.error({ err: error }, "a cadence could not be begun with all of them");
      job.state = "failed";
      job.said = `${job.started} began; then it failed. Try the rest again.`;
    }
  }
}
