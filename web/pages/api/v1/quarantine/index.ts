import { limitOf, serve } from "../../../../api/endpoint.ts";
import { iso } from "../../../../wire/shape.ts";

export const GET = serve("GET /quarantine", async ({ desk, query }) => {
  const limit = limitOf(query);
  const rows = desk.reader.quarantine(limit, query.get("sourceId"), query.get("cursor"));
  const last = rows.length === limit ? rows.at(-1) : undefined;
  return {
    items: await Promise.all(
      rows.map(async ({ held, headersJson, ...q }) => ({
        ...q,
        seems: await desk.quarantine.seems({ ...q, headers: JSON.parse(headersJson) }),
        // What was held or came while paused could be read: somebody may insist on it.
        insistable: held === 1 || desk.setup.sources.find((s) => s.id === q.sourceId)?.state === "paused",
        receivedAt: iso(q.receivedAt),
        raw: q.raw.toString("utf8").slice(0, 4_000),
      })),
    ),
    next: last ? `${last.receivedAt}~${last.id}` : null,
  };
});
