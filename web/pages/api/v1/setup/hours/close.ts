import { closedFrom } from "../../../../../../core/setup/change-bells.ts";
import { localDate } from "../../../../../../core/time/words.ts";
import { serve } from "../../../../../api/endpoint.ts";
import { toHours } from "../../../../../wire/shape-bells.ts";

/** Close the desk from a time on, today or on another day: a snow day. */
export const POST = serve("POST /setup/hours/close", async ({ desk, me, body }) => {
  const { zone } = desk.setup.policies.desk;
  const date = body.date ?? localDate(desk.clock.now(), zone);
  desk.office.change(me.id, (setup) => ({ ok: true, setup: closedFrom(setup, date, body.from, body.name) }));
  const moved = await desk.sweep.settled();
  return { setup: toHours(desk), moved };
});
