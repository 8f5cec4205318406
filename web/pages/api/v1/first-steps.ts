import { settleStep } from "../../../../core/setup/first-steps.ts";
import { refusal, serve } from "../../../api/endpoint.ts";
import { toFirstSteps } from "../../../wire/shape-company.ts";

export const GET = serve("GET /first-steps", ({ desk, rights }) => toFirstSteps(desk, rights));

export const POST = serve("POST /first-steps", ({ desk, me, rights, body }) => {
  const changed = desk.office.change(me.id, (setup) => settleStep(setup, body.step, body.settled));
  return changed.ok ? toFirstSteps(desk, rights) : refusal(changed.problem);
});
