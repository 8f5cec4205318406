import { limitOf, serve } from "../../../../../api/endpoint.ts";
import { toDelivery } from "../../../../../wire/shape-hooks.ts";

const STATES = ["queued", "delivered", "dead"] as const;

export const GET = serve("GET /hooks/deliveries", ({ desk, query }) => {
  const limit = limitOf(query);
  const state = STATES.find((s) => s === query.get("state")) ?? null;
  const asked = { hookId: query.get("hook"), dealId: query.get("deal"), state };
  const rows = desk.hooks.deliveries(asked, limit, query.get("cursor"));
  return {
    items: rows.map((row) => toDelivery(desk, row)),
    next: rows.length === limit ? rows.at(-1)!.id : null,
  };
});
