import { changeMorning } from "../../../../../core/setup/change-bells.ts";
import { refusal, serve } from "../../../../api/endpoint.ts";
import { toMorning } from "../../../../wire/shape-bells.ts";

/** The morning summary as it would be sent now. */
export const GET = serve("GET /morning", ({ desk }) => toMorning(desk));

/** Switch the summary on or off, and choose how it comes. */
export const POST = serve("POST /morning", ({ desk, me, body }) => {
  const changed = desk.office.change(me.id, (setup) => changeMorning(setup, body));
  return changed.ok ? toMorning(desk) : refusal(changed.problem);
});
