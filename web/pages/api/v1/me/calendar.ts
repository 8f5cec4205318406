import { serve } from "../../../../api/endpoint.ts";
import { madeLink } from "../../../../api/open-links.ts";

export const POST = serve("POST /me/calendar", ({ desk, me }) =>
  madeLink(desk, me.id, { kind: "calendar", listId: null, format: null }),
);
