import { dropDraft } from "../../../../../../core/setup/change-routing.ts";
import { endpoint, refusal } from "../../../../../api/endpoint.ts";
import { toRouting } from "../../../../../wire/shape-routing.ts";

/** Throw the draft away. */
export const POST = endpoint(null, ({ desk, me, rights }) => {
  const changed = desk.office.change(me.id, (setup) => dropDraft(setup));
  return changed.ok ? toRouting(desk, rights.has("rules.publish")) : refusal(changed.problem);
});
