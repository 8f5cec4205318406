import { park } from "../../../../../../core/desk/park.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/park", ({ desk, me, params, body }) =>
  answer(
    desk.act(params.id ?? "", (world) =>
      park(world, me.id, body.reason, body.planId, body.until ? Date.parse(body.until) : null),
    ),
  ),
);
