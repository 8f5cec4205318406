import { serve } from "../../../../api/endpoint.ts";
import { toKey } from "../../../../wire/shape-access.ts";

export const GET = serve("GET /keys", ({ desk }) => ({
  items: desk.keys.list().map((key) => toKey(desk.setup, key)),
  next: null,
}));

/** Make a key. It is shown in this answer and never again. */
export const POST = serve("POST /keys", ({ desk, me, body }) =>
  desk.keys.make(body.name, body.scopes, me.id),
);
