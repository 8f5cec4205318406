import { cursorOf, limitOf, serve } from "../../../api/endpoint.ts";
import { toAudit } from "../../../wire/shape-routing.ts";

export const GET = serve("GET /audit", ({ desk, query }) => {
  const limit = limitOf(query);
  const cursor = cursorOf(query);
  const entries = desk.office.audits(limit, cursor);
  return {
    items: entries.map((e) => toAudit(desk.setup, e)),
    next: entries.length === limit ? String(entries.at(-1)!.n) : null,
  };
});
