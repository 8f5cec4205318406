import { changeDeskHours } from "../../../../../../core/setup/change-bells.ts";
import type { Hours } from "../../../../../../core/time/calendar.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toHours } from "../../../../../wire/shape-bells.ts";

export const GET = serve("GET /setup/hours", ({ desk }) => toHours(desk));

/** Change when the desk is open. Every running bell is reckoned again at once, with the reason on each. */
export const POST = serve("POST /setup/hours", async ({ desk, me, body }) => {
  const { holidays, ...hours } = body;
  const changed = desk.office.change(me.id, (setup) =>
    changeDeskHours(setup, { desk: hours as Hours, holidays }),
  );
  if (!changed.ok) return refusal(changed.problem);
  const moved = await desk.sweep.settled();
  return { setup: toHours(desk), moved };
});
