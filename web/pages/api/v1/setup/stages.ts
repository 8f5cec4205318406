import { changeStages } from "../../../../../core/setup/change-stages.ts";
import { refusal, serve } from "../../../../api/endpoint.ts";
import { toStages } from "../../../../wire/shape-stages.ts";

export const GET = serve("GET /setup/stages", ({ desk }) => toStages(desk));

/** What stands in a stage that is gone goes where `moves` says, each by an event of its own. */
export const POST = serve("POST /setup/stages", ({ desk, me, body }) => {
  const { moves } = body;
  const changed = desk.customers.changeStages(
    me.id,
    (setup, standing) => changeStages(setup, body, standing),
    moves ?? {},
  );
  return changed.ok ? toStages(desk) : refusal(changed.problem);
});
