import { changeAlertWords } from "../../../../../../core/setup/change.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toAlerts } from "../../../../../wire/shape-answering.ts";

/** What alerts say, all of them: what is left out says the usual. */
export const POST = serve("POST /setup/alerts/words", ({ desk, me, body }) => {
  const changed = desk.office.change(me.id, (setup) => changeAlertWords(setup, body.words));
  return changed.ok ? toAlerts(changed.setup, desk.clock.now()) : refusal(changed.problem);
});
