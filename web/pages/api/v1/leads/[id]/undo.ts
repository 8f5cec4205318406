import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/undo", ({ desk, me, params, body }) =>
  answer(desk.undo(params.id ?? "", me.id, body.actId)),
);
