import { changeRestraint } from "../../../../../core/setup/change.ts";
import { refusal, serve } from "../../../../api/endpoint.ts";

export const GET = serve("GET /setup/restraint", ({ desk }) => desk.setup.policies.restraint);

export const POST = serve("POST /setup/restraint", ({ desk, me, body }) => {
  const changed = changeRestraint(desk.setup, body);
  if (!changed.ok) return refusal(changed.problem);
  desk.changeSetup(changed.setup, me.id);
  return changed.setup.policies.restraint;
});
