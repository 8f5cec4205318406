import { saveGroup } from "../../../../../../core/setup/change-people.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toPeopleSetup } from "../../../../../wire/shape-routing.ts";

export const POST = serve("POST /setup/groups", ({ desk, me, body }) => {
  const group = { ...body, id: body.id || desk.newId("g") };
  const changed = desk.office.change(me.id, (setup) => saveGroup(setup, group));
  return changed.ok ? toPeopleSetup(desk) : refusal(changed.problem);
});
