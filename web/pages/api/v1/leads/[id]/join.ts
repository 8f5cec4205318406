import { answer, serve } from "../../../../../api/endpoint.ts";

/** Join another lead to this one: they are one person. */
export const POST = serve("POST /leads/[id]/join", ({ desk, me, params, body }) =>
  answer(desk.join(params.id ?? "", body.with, me.id)),
);
