import { troublesOf } from "../../../../server/bells/troubles.ts";
import { serve } from "../../../api/endpoint.ts";
import { iso } from "../../../wire/shape.ts";

export const GET = serve("GET /troubles", ({ desk }) => ({
  items: troublesOf(desk).map((trouble) => ({ ...trouble, since: iso(trouble.since) })),
  next: null,
}));
