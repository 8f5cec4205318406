import { dayBegins } from "../../../../core/time/defer.ts";
import { cursorOf, limitOf, serve } from "../../../api/endpoint.ts";
import { toAudit } from "../../../wire/shape-routing.ts";

export const GET = serve("GET /audit", ({ desk, query }) => {
  const limit = limitOf(query);
  const cursor = cursorOf(query);
  const { zone } = desk.setup.policies.desk;
  const entries = desk.office.audits(limit, cursor, {
    by: query.get("by"),
    about: query.get("about"),
    from: dayBegins(query.get("from") ?? "", zone),
    before: dayBegins(query.get("to") ?? "", zone, 1),
  });
  return {
    items: entries.map((e) => toAudit(desk.setup, e)),
    next: entries.length === limit ? String(entries.at(-1)!.n) : null,
  };
});
