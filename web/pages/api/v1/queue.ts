import { endpoint, limitOf } from "../../../api/endpoint.ts";
import { toQueue } from "../../../wire/shape.ts";

export const GET = endpoint(null, ({ desk, me, rights, query }) =>
  toQueue(desk, limitOf(query), query.has("later"), rights.has("leads.all") ? null : me.id),
);
