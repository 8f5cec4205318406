import { changeAlerts } from "../../../../../../core/setup/change.ts";
import { endpoint, problem, refusal } from "../../../../../api/endpoint.ts";
import { ChangeAlerts } from "../../../../../wire/answering-schemas.ts";
import { toAlerts } from "../../../../../wire/shape-answering.ts";

export const GET = endpoint(null, ({ desk }) => toAlerts(desk.setup));

export const POST = endpoint(ChangeAlerts, ({ desk, me, rights, body }) => {
  if (body.personId !== me.id && !rights.has("setup.change"))
    return problem(403, "Not yours to do", "You may change how you hear of things, and nobody else’s way.");
  const changed = changeAlerts(desk.setup, body.personId, body.matrix);
  if (!changed.ok) return refusal(changed.problem);
  desk.changeSetup(changed.setup, me.id);
  return toAlerts(changed.setup);
});
