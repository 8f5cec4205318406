import { limitOf, serve } from "../../../../../api/endpoint.ts";
import { toDelivery } from "../../../../../wire/shape-hooks.ts";

export const GET = serve("GET /hooks/deliveries", ({ desk, query }) => ({
  items: desk.hooks
    .deliveries(query.get("hook"), limitOf(query), query.get("deal"))
    .map((row) => toDelivery(desk, row)),
  next: null,
}));
