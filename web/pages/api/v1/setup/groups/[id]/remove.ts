import { removeGroup } from "../../../../../../../core/setup/change-people.ts";
import { refusal, serve } from "../../../../../../api/endpoint.ts";
import { toPeopleSetup } from "../../../../../../wire/shape-routing.ts";

export const POST = serve("POST /setup/groups/[id]/remove", ({ desk, me, params }) => {
  const changed = desk.office.change(me.id, (setup) => removeGroup(setup, params.id ?? ""));
  return changed.ok ? toPeopleSetup(desk) : refusal(changed.problem);
});
