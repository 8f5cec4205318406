import { dropDraft } from "../../../../../../core/setup/change-routing.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toRouting } from "../../../../../wire/shape-routing.ts";

/** Throw the draft away. */
export const POST = serve("POST /setup/routing/drop", ({ desk, me, rights }) => {
  const changed = desk.office.change(me.id, (setup) => dropDraft(setup));
  return changed.ok ? toRouting(desk, rights.has("rules.publish")) : refusal(changed.problem);
});
