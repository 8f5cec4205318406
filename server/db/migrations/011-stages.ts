import { type Kysely, type Migration, sql } from "kysely";

/** Stages by their names of today, wherever one is kept: leads, what their events hold of them, set-ups and rules. */
const RENAMED: Readonly<Record<string, string>> = { Working: "Being tried", "In conversation": "Talking" };

/** A set-up or rules as kept, with stages renamed where they are listed and where a condition asks for one. */
function renamed(value: unknown, inStages = false): unknown {
  if (typeof value === "string") return inStages ? (RENAMED[value] ?? value) : value;
  if (typeof value !== "object" || value === null) return value;
  if (Array.isArray(value)) return value.map((item) => renamed(item, inStages));
  const asksForStage = (value as { field?: unknown }).field === "stage";
  return Object.fromEntries(
    Object.entries(value).map(([key, inner]) => [
      key,
      renamed(inner, key === "stages" || (asksForStage && key === "value")),
    ]),
  );
}

/** Null for one that can't be read: it is left as it is, and passed over when the desk starts. */
function rewritten(json: string): string | null {
  try {
    return JSON.stringify(renamed(JSON.parse(json)));
  } catch {
    return null;
  }
}

async function rename(db: Kysely<unknown>, table: string, key: string, column: string): Promise<void> {
  const { rows } = await sql<{ key: number; json: string }>`
    select ${sql.ref(key)} as key, ${sql.ref(column)} as json from ${sql.table(table)}`.execute(db);
  for (const row of rows) {
    const json = rewritten(row.json);
    if (json !== null && json !== row.json)
      await sql`update ${sql.table(table)} set ${sql.ref(column)} = ${json} where ${sql.ref(key)} = ${row.key}`.execute(
        db,
      );
  }
}

export const stages: Migration = {
  async up(db) {
    for (const [before, after] of Object.entries(RENAMED)) {
      // As JSON writes it. Within a text the quotes would be escaped, so nothing anybody wrote is touched.
      const [old, now] = [`"stage":"${before}"`, `"stage":"${after}"`];
      for (const [table, column] of [
        ["leads", "leadJson"],
        ["events", "dataJson"],
      ] as const)
        await sql`update ${sql.table(table)} set ${sql.ref(column)} = replace(${sql.ref(column)}, ${old}, ${now})
          where instr(${sql.ref(column)}, ${old}) > 0`.execute(db);
    }
    await rename(db, "setup", "version", "setupJson");
    await rename(db, "ruleVersions", "version", "rulesJson");
  },
};
