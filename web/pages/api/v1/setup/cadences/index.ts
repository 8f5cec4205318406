import { draftCadence } from "../../../../../../core/setup/change-cadences.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { planFrom, toCadence, toCadences } from "../../../../../wire/shape-cadences.ts";

export const GET = serve("GET /setup/cadences", ({ desk }) => toCadences(desk));

/** Keep a draft: it may be unfinished, and changes nothing of what is live. */
export const POST = serve("POST /setup/cadences", ({ desk, me, body }) => {
  const { id: given, version: _, state: __, ...plan } = body;
  const id = given ?? desk.newId("cad");
  const changed = desk.office.change(me.id, (setup) => draftCadence(setup, id, planFrom(plan)));
  if (!changed.ok) return refusal(changed.problem);
  return toCadence(desk, desk.setup.policies.cadences.find((c) => c.id === id)!);
});
