import { changeRestraint } from "../../../../../core/setup/change.ts";
import { endpoint, refusal } from "../../../../api/endpoint.ts";
import { RestraintSetup } from "../../../../wire/answering-schemas.ts";

export const GET = endpoint(null, ({ desk }) => desk.setup.policies.restraint);

export const POST = endpoint(RestraintSetup, ({ desk, me, body }) => {
  const changed = changeRestraint(desk.setup, body);
  if (!changed.ok) return refusal(changed.problem);
  desk.changeSetup(changed.setup, me.id);
  return changed.setup.policies.restraint;
});
