import { removeTemplate } from "../../../../../../../core/setup/change.ts";
import { refusal, serve } from "../../../../../../api/endpoint.ts";

export const POST = serve("POST /setup/templates/[id]/remove", ({ desk, me, params }) => {
  const id = params.id ?? "";
  const changed = removeTemplate(desk.setup, id);
  if (!changed.ok) return refusal(changed.problem);
  desk.changeSetup(changed.setup, me.id);
  return { removed: id };
});
