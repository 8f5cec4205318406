import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Part } from "../../../../../wire/setup-schemas.ts";

/** Take apart again what was joined. */
export const POST = endpoint(Part, ({ desk, me, params, body }) =>
  answer(desk.part(params.id ?? "", body.from, me.id)),
);
