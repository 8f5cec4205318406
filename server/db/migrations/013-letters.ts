import { type Kysely, type Migration, sql } from "kysely";

/**
 * A letter in the mark-up of our own that letters had, as CommonMark: `*strong*` is `**strong**`, and a picture's address
 * alone in its paragraph is a picture. Everything else reads the same in both.
 */
export function asMarkdown(body: string): string {
  return body
    .replace(/(^|[\s(])\*([^*\s](?:[^*\n]{0,500}[^*\s])?)\*(?=$|[\s).,;:!?])/g, "$1**$2**")
    .split("\n\n")
    .map((block) =>
      /^https?:\/\/[^\s<>"']+\.(?:png|jpe?g|gif|webp)$/i.test(block) ? `![](${block})` : block,
    )
    .join("\n\n");
}

interface Text {
  readonly body?: unknown;
}
interface Template {
  readonly channel?: unknown;
  readonly texts?: Readonly<Record<string, Text>>;
}

function converted<T extends Template>(template: T): T {
  if (template.channel !== "email" || !template.texts) return template;
  const texts = Object.entries(template.texts).map(([language, text]) => [
    language,
    typeof text.body === "string" ? { ...text, body: asMarkdown(text.body) } : text,
  ]);
  return { ...template, texts: Object.fromEntries(texts) };
}

/** Null for one that can't be read: it is left as it is, and passed over when the desk starts. */
function setupRewritten(json: string): string | null {
  try {
    const setup = JSON.parse(json) as { policies?: { templates?: readonly Template[] } };
    const templates = setup.policies?.templates;
    if (!templates) return null;
    return JSON.stringify({ ...setup, policies: { ...setup.policies, templates: templates.map(converted) } });
  } catch {
    return null;
  }
}

async function rewrite(db: Kysely<unknown>): Promise<void> {
  const { rows } = await sql<{ version: number; json: string }>`
    select version, setupJson as json from setup`.execute(db);
  for (const { version, json } of rows) {
    const after = setupRewritten(json);
    if (after !== null && after !== json)
      await sql`update setup set setupJson = ${after} where version = ${version}`.execute(db);
  }
}

export const letters: Migration = { up: rewrite };
