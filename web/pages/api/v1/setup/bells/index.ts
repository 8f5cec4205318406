import { changeBells } from "../../../../../../core/setup/change-bells.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toBells } from "../../../../../wire/shape-bells.ts";

export const GET = serve("GET /setup/bells", ({ desk }) => toBells(desk));

/** Change targets and ladders. Bells that run keep theirs, unless they are told to change as well. */
export const POST = serve("POST /setup/bells", async ({ desk, me, body }) => {
  const { running, ...change } = body;
  const changed = desk.office.change(
    me.id,
    (setup) => changeBells(setup, change),
    running === "change" ? "anew" : undefined,
  );
  if (!changed.ok) return refusal(changed.problem);
  const moved = await desk.sweep.settled();
  return { setup: toBells(desk), moved };
});
