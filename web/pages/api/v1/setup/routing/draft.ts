import { draftRules } from "../../../../../../core/setup/change-routing.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toRouting } from "../../../../../wire/shape-routing.ts";

/** Keep a draft of the rules; nothing changes for leads until it is published. */
export const POST = serve("POST /setup/routing/draft", ({ desk, me, rights, body }) => {
  const changed = desk.office.change(me.id, (setup, now) => draftRules(setup, body, me.id, now));
  return changed.ok ? toRouting(desk, rights.has("rules.publish")) : refusal(changed.problem);
});
