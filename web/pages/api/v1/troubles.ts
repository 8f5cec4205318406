import { troublesOf } from "../../../../server/bells/troubles.ts";
import { endpoint } from "../../../api/endpoint.ts";
import { iso } from "../../../wire/shape.ts";

export const GET = endpoint(null, ({ desk }) => ({
  items: troublesOf(desk).map((trouble) => ({ ...trouble, since: iso(trouble.since) })),
  next: null,
}));
