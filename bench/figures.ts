import { join } from "node:path";
import { sql as raw } from "kysely";
import { DEMO_NOW, makeHistory } from "../demo/history.ts";
import { tarnholt } from "../demo/tarnholt.ts";
import { Sql } from "../server/db/sql.ts";
import { EVENT_COLUMNS, LEAD_COLUMNS } from "../server/engine/rows.ts";
import type { Question } from "../server/figures/questions.ts";
import { Teller } from "../server/figures/teller.ts";
import { said, times } from "./many-leads.ts";
import { folderOf, report } from "./support.ts";

const EVENTS = Number(process.env.EVENTS ?? 1_000_000);
const DAY = 86_400_000;

/** The demo's sixty days many times over, each time as other leads, until there are so many events. */
async function manyEvents(sql: Sql): Promise<number> {
  const { q } = sql;
  const count = () =>
    Number(sql.get(q.selectFrom("events").select((eb) => eb.fn.countAll().as("n")))?.n ?? 0);
  const each = count();
  const list = (columns: readonly string[]) => raw.raw(columns.map((c) => `"${c}"`).join(", "));
  for (let i = 1; i * each < EVENTS; i++) {
    const suffix = `~${i}`;
    const as = (columns: readonly string[], renamed: readonly string[]) =>
      raw.raw(columns.map((c) => (renamed.includes(c) ? `"${c}" || '${suffix}'` : `"${c}"`)).join(", "));
    for (const [table, columns, renamed] of [
      ["leads", LEAD_COLUMNS, ["id"]],
      ["events", EVENT_COLUMNS, ["id", "leadId"]],
    ] as const) {
      const from = table === "leads" ? raw.raw(`"id" not like '%~%'`) : raw.raw(`"leadId" not like '%~%'`);
      const copy = raw`insert into ${raw.table(table)} (${list(columns)}) select ${as(columns, renamed)}
        from ${raw.table(table)} where ${from}`;
      sql.run({ compile: () => copy.compile(q) });
    }
  }
  return count();
}

/** How long a page of figures takes over a million events, and how long it takes until they are accounted for. */
export async function benchFigures(): Promise<void> {
  const folder = await folderOf("figures");
  await makeHistory(folder);
  const sql = await Sql.open(join(folder, "kite-bell.db"), { durable: false, references: false });
  const events = await manyEvents(sql);
  const teller = new Teller(sql);
  let begun = performance.now();
  while (teller.follow());
  const followed = performance.now() - begun;
  const spans = [7, 28, 56, 80].map((days) => ({ from: DEMO_NOW - days * DAY, to: DEMO_NOW, now: DEMO_NOW }));
  const questions = (span: (typeof spans)[number]): Omit<Question, "setup" | "setupN">[] => [
    ...(["source", "person", "rule", "hour"] as const).map((by) => ({
      kind: "response" as const,
      asked: { ...span, clock: "desk" as const, until: "try" as const, by, split: span.to - 3 * DAY },
    })),
    { kind: "effort", asked: span },
    { kind: "sources", asked: { ...span, by: "campaign", attribution: "first" } },
    { kind: "people", asked: span },
    { kind: "staffing", asked: { ...span, goal: 0.8, minutes: 5, seconds: 300, more: [] } },
  ];
  const took = new Map<string, number[]>();
  for (let round = 0; round < 3; round++)
    for (const span of spans)
      for (const question of questions({ ...span, now: span.now + round })) {
        begun = performance.now();
        teller.tell({ ...question, setup: tarnholt, setupN: 1 } as Question);
        const all = took.get(question.kind) ?? [];
        took.set(question.kind, all);
        all.push(performance.now() - begun);
      }
  sql.close();
  report(`figures over ${said(events)} events`, [
    ["accounting for all of them", `${(followed / 1000).toFixed(1)} s`],
    ...[...took].map(([kind, t]): [string, string] => [`${kind} (p95 under 300 ms)`, times(t)]),
  ]);
}
