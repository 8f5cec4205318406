import { changeParking } from "../../../../../core/setup/change-bells.ts";
import { refusal, serve } from "../../../../api/endpoint.ts";
import { toParking } from "../../../../wire/shape-bells.ts";

export const GET = serve("GET /setup/parking", ({ desk }) => toParking(desk));

/** Change the rules that wake parked leads. */
export const POST = serve("POST /setup/parking", ({ desk, me, body }) => {
  const changed = desk.office.change(me.id, (setup) => changeParking(setup, body));
  return changed.ok ? toParking(desk) : refusal(changed.problem);
});
