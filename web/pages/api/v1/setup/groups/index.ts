import { saveGroup } from "../../../../../../core/setup/change-people.ts";
import { endpoint, refusal } from "../../../../../api/endpoint.ts";
import { FullGroup } from "../../../../../wire/routing-schemas.ts";
import { toPeopleSetup } from "../../../../../wire/shape-routing.ts";

export const POST = endpoint(FullGroup, ({ desk, me, body }) => {
  const group = { ...body, id: body.id || desk.newId("g") };
  const changed = desk.office.change(me.id, (setup) => saveGroup(setup, group));
  return changed.ok ? toPeopleSetup(desk) : refusal(changed.problem);
});
