import { limitOf, serve } from "../../../../api/endpoint.ts";
import { toCompanyRow } from "../../../../wire/shape-customers.ts";

export const GET = serve("GET /companies", ({ desk, me, rights, query }) => {
  const page = desk.customers.list("company", {
    like: query.get("q") ?? "",
    after: query.get("cursor"),
    limit: limitOf(query),
    of: rights.has("leads.all") ? null : me.id,
  });
  return { items: page.items.map((one) => toCompanyRow(desk, one)), next: page.next };
});
