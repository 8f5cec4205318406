import { limitOf, serve } from "../../../../api/endpoint.ts";
import { toContactRow } from "../../../../wire/shape-customers.ts";

export const GET = serve("GET /contacts", ({ desk, me, rights, query }) => {
  const page = desk.customers.list("contact", {
    like: query.get("q") ?? "",
    after: query.get("cursor"),
    limit: limitOf(query),
    of: rights.has("leads.all") ? null : me.id,
  });
  return { items: page.items.map((one) => toContactRow(desk, one)), next: page.next };
});
