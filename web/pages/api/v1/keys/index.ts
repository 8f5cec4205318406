import { endpoint } from "../../../../api/endpoint.ts";
import { MakeKey } from "../../../../wire/access-schemas.ts";
import { toKey } from "../../../../wire/shape-access.ts";

export const GET = endpoint(null, ({ desk }) => ({
  items: desk.keys.list().map((key) => toKey(desk.setup, key)),
  next: null,
}));

/** Make a key. It is shown in this answer and never again. */
export const POST = endpoint(MakeKey, ({ desk, me, body }) => desk.keys.make(body.name, body.scopes, me.id));
