import { sql as raw, type SqlBool } from "kysely";
import { clicked, visited } from "../../core/desk/hear.ts";
import type { Template } from "../../core/policy/answering.ts";
import { wilson } from "../../core/report/wilson.ts";
import type { Engine } from "../engine/engine.ts";

/** What somebody has begun to write to a lead. */
export interface Draft {
  readonly channel: "email" | "text";
  readonly subject: string;
  readonly body: string;
  readonly templateId: string | null;
}

/** How a template does. */
export interface TemplateFigures {
  readonly sent: number;
  /** Of those, after how many the lead wrote within a day. */
  readonly replied: number;
  readonly low: number;
  readonly high: number;
}

const DAY = 86_400_000;
/** Figures look back so far. */
const WINDOW = 90 * DAY;
/** So many versions of the set-up are looked through for one template's. */
const MOST_VERSIONS = 200;

/** The same page looked at again within so long (ms) is the same look. */
const SAME_VIEW = 30 * 60_000;
const VIEWS_KEPT = 10_000;

/** What stands around messages: drafts, who must not be written to, links that were opened, how templates do. */
export class Correspondence {
  readonly #desk: Engine;

  constructor(desk: Engine) {
    this.#desk = desk;
  }

  draft(personId: string, leadId: string): Draft | null {
    const { sql } = this.#desk;
    const row = sql.get(
      sql.q
        .selectFrom("drafts")
        .select("draftJson")
        .where("personId", "=", personId)
        .where("leadId", "=", leadId),
    );
    return row ? (JSON.parse(row.draftJson) as Draft) : null;
  }

  /** Keep a draft; one with nothing in it is forgotten. */
  keepDraft(personId: string, leadId: string, draft: Draft): void {
    const { sql, clock } = this.#desk;
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

  /** A link of ours was opened: told in the thread each time a person presses it. Gives where it leads. */
  open(code: string): string | null {
    const { links, sql } = this.#desk;
    const n = links.readShort(code);
    const link =
      n === null ? undefined : sql.get(sql.q.selectFrom("shortLinks").selectAll().where("n", "=", n));
    if (!link) return null;
    const { messageId, url } = link;
    this.#desk.act(
      this.#desk.looker.survivor(link.leadId),
      (world) => clicked(world, messageId, url),
      () =>
        sql.run(
          sql.q
            .updateTable("shortLinks")
            .set((eb) => ({ clicks: eb("clicks", "+", 1) }))
            .where("n", "=", link.n),
        ),
    );
    return this.#toOwnSite(url, this.#desk.looker.survivor(link.leadId));
  }

  /** When each page was last looked at by whom: looking again and again is one signal. */
  readonly #seen = new Map<string, number>();

  /** A page of the company's own is told who comes; whether it may remember that is asked there. */
  #toOwnSite(url: string, leadId: string): string {
    const { sites } = this.#desk.setup.policies;
    if (!URL.canParse(url) || !sites.includes(new URL(url).host)) return url;
    const page = new URL(url);
    page.searchParams.set("kb", this.#desk.links.visitor(leadId));
    return page.href;
  }

  /** Somebody known looked at one of the company's own pages. False when the name is not ours, or the page. */
  visit(visitor: string, page: string): boolean {
    const { links, setup, looker } = this.#desk;
    const leadId = links.readVisitor(visitor);
    const { host, pathname } = new URL(page);
    if (!leadId || !setup.policies.sites.includes(host)) return false;
    const url = `${host}${pathname}`;
    const seen = `${leadId} ${url}`;
    const now = this.#desk.clock.now();
    if (now - (this.#seen.get(seen) ?? Number.NEGATIVE_INFINITY) < SAME_VIEW) return true;
    if (this.#seen.size >= VIEWS_KEPT) this.#seen.clear();
    this.#seen.set(seen, now);
    return this.#desk.act(looker.survivor(leadId), (world) => visited(world, url)).ok;
  }

  suppressed(limit = 500) {
    const { sql } = this.#desk;
    return sql.all(sql.q.selectFrom("suppressed").selectAll().orderBy("at", "desc").limit(limit));
  }

  /** Put numbers and addresses on the list of those nothing automatic goes to. Returns how many are new. */
  suppress(values: readonly string[], reason: string, by: string | null): number {
    const { sql, clock, looker } = this.#desk;
    const at = clock.now();
    const added = sql.transaction(() =>
      values.reduce(
        (n, value) =>
          n +
          sql.run(
            sql.q
              .insertInto("suppressed")
              .values({ value, at, by, reason })
              .onConflict((c) => c.doNothing()),
          ),
        0,
      ),
    );
    looker.reload();
    return added;
  }

  unsuppress(value: string): boolean {
    const { sql, looker } = this.#desk;
    const gone = sql.run(sql.q.deleteFrom("suppressed").where("value", "=", value)) > 0;
    looker.reload();
    return gone;
  }

  /** How every template does, over the last ninety days. */
  figures(): ReadonlyMap<string, TemplateFigures> {
    const { sql, clock } = this.#desk;
    // Literals, so that the index of messages alone is used.
    const rows = sql.all(
      sql.q
        .selectFrom("events")
        .select([
          "leadId",
          "at",
          "kind",
          raw<string | null>`json_extract(dataJson, '$.templateId')`.as("templateId"),
        ])
        .where(raw<boolean>`kind in ('message-out', 'message-in')`)
        .where("at", ">", clock.now() - WINDOW)
        .orderBy("at"),
    );
    const replies = new Map<string, number[]>();
    for (const { leadId, at, kind } of rows)
      if (kind === "message-in") replies.set(leadId, [...(replies.get(leadId) ?? []), at]);
    const counts = new Map<string, { sent: number; replied: number }>();
    for (const { leadId, at, kind, templateId } of rows) {
      if (kind !== "message-out" || !templateId) continue;
      const count = counts.get(templateId) ?? { sent: 0, replied: 0 };
      count.sent++;
      if (replies.get(leadId)?.some((r) => r > at && r <= at + DAY)) count.replied++;
      counts.set(templateId, count);
    }
    return new Map(
      [...counts].map(([id, { sent, replied }]) => [id, { sent, replied, ...wilson(replied, sent) }]),
    );
  }

  /** The versions of a template, newest first: when it was changed, by whom, and what it said. */
  versions(templateId: string): { at: number; by: string | null; template: Template }[] {
    const { sql } = this.#desk;
    const rows = sql.all(
      sql.q
        .selectFrom("setup")
        .select(["at", "by"])
        .select(
          raw<string | null>`(
            select template.value from json_each(setupJson, '$.policies.templates') as template
            where json_extract(template.value, '$.id') = ${templateId})`.as("templateJson"),
        )
        .where(raw<SqlBool>`json_valid(setupJson)`)
        .orderBy("version", "desc")
        .limit(MOST_VERSIONS),
    );
    const found: { at: number; by: string | null; template: Template }[] = [];
    for (const { at, by, templateJson } of rows) {
      if (!templateJson) continue;
      const template = JSON.parse(templateJson) as Template;
      const last = found.at(-1);
      // Of a run of set-ups that say the same the oldest is the change.
      if (last && JSON.stringify(last.template) === JSON.stringify(template)) Object.assign(last, { at, by });
      else found.push({ at, by, template });
    }
    return found;
  }
}
