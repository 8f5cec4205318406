import { answer, serve } from "../../../../../api/endpoint.ts";

/** Take apart again what was joined. */
export const POST = serve("POST /leads/[id]/part", ({ desk, me, params, body }) =>
  answer(desk.part(params.id ?? "", body.from, me.id)),
);
