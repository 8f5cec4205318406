import { limitOf, serve } from "../../../api/endpoint.ts";
import { toQueue } from "../../../wire/shape.ts";

export const GET = serve("GET /queue", ({ desk, me, rights, query }) =>
  toQueue(desk, limitOf(query), query.has("later"), rights.has("leads.all") ? null : me.id),
);
