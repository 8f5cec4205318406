import { nameOf } from "../../../../../../core/policy/setup.ts";
import { serve } from "../../../../../api/endpoint.ts";

/** Somebody has the lead open, or has closed it. Gives who else has it open. */
export const POST = serve("POST /leads/[id]/here", ({ desk, me, params, body }) => {
  const id = params.id ?? "";
  if (!body.here) {
    desk.presence.gone(id, me.id);
    return { others: [] };
  }
  const others = desk.presence.here(id, me.id);
  return { others: others.map((other) => ({ id: other, name: nameOf(desk.setup, other) })) };
});
