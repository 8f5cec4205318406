import { notSame } from "../../../../../../core/desk/same.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

/** A proposed match is somebody else. */
export const POST = serve("POST /leads/[id]/not-same", ({ desk, me, params, body }) =>
  answer(
    desk.act(params.id ?? "", (world) =>
      notSame(world, body.leadId, desk.looker.lead(body.leadId)?.name ?? null, me.id),
    ),
  ),
);
