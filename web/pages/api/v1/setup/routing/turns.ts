import { changeTurns } from "../../../../../../core/setup/change-routing.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toRouting } from "../../../../../wire/shape-routing.ts";

/** Change what becomes of turns that came to nothing, who is on standby, and the reasons for passing. */
export const POST = serve("POST /setup/routing/turns", ({ desk, me, rights, body }) => {
  const changed = desk.office.change(me.id, (setup) => changeTurns(setup, body));
  return changed.ok ? toRouting(desk, rights.has("rules.publish")) : refusal(changed.problem);
});
