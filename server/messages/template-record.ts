import { sql as raw, type SqlBool } from "kysely";
import type { Template } from "../../core/policy/answering.ts";
import { wilson } from "../../core/statistics/wilson.ts";
import type { Engine } from "../engine/engine.ts";

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

/** What the record says of templates: how each does, and what it said before. */
export class TemplateRecord {
  readonly #engine: Engine;

  constructor(engine: Engine) {
    this.#engine = engine;
  }

  /** How every template does, over the last ninety days. */
  figures(): ReadonlyMap<string, TemplateFigures> {
    const { sql, clock } = this.#engine;
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
    const { sql } = this.#engine;
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
