import { switchCadence } from "../../../../../../../core/setup/change-cadences.ts";
import { refusal, serve } from "../../../../../../api/endpoint.ts";
import { toCadence } from "../../../../../../wire/shape-cadences.ts";

export const POST = serve("POST /setup/cadences/[id]/switch", ({ desk, me, params, body }) => {
  const id = params.id ?? "";
  const changed = desk.office.change(me.id, (setup) => switchCadence(setup, id, body.off));
  if (!changed.ok) return refusal(changed.problem);
  return toCadence(desk, desk.setup.policies.cadences.find((c) => c.id === id)!);
});
