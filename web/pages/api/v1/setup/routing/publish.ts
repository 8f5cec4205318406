import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toRouting } from "../../../../../wire/shape-routing.ts";

/** Put the draft in force as the next version. */
export const POST = serve("POST /setup/routing/publish", ({ desk, me, rights, body }) => {
  const changed = desk.office.publish(me.id, body.note);
  return changed.ok ? toRouting(desk, rights.has("rules.publish")) : refusal(changed.problem);
});
