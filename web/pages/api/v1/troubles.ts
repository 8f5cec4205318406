import { endpoint } from "../../../api/endpoint.ts";
import { iso } from "../../../wire/shape.ts";

export const GET = endpoint(null, ({ desk }) => ({
  items: desk.outbox.outages().map((way) => ({ ...way, since: iso(way.since) })),
  next: null,
}));
