import { openAgain } from "../../../../../../core/setup/change-bells.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toHours } from "../../../../../wire/shape-bells.ts";

/** Take back an early closing: the date is again what it was before. */
export const POST = serve("POST /setup/hours/open", async ({ desk, me, body }) => {
  const changed = desk.office.change(me.id, (setup) => openAgain(setup, body.date));
  if (!changed.ok) return refusal(changed.problem);
  const moved = await desk.sweep.settled();
  return { setup: toHours(desk), moved };
});
