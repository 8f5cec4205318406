import { changeParking } from "../../../../../core/setup/change-bells.ts";
import { endpoint, refusal } from "../../../../api/endpoint.ts";
import { SaveParking } from "../../../../wire/bells-schemas.ts";
import { toParking } from "../../../../wire/shape-bells.ts";

export const GET = endpoint(null, ({ desk }) => toParking(desk));

/** Change slow plans, the rules that wake parked leads, and which sites are the company's own. */
export const POST = endpoint(SaveParking, ({ desk, me, body }) => {
  const changed = desk.office.change(me.id, (setup) => changeParking(setup, body));
  return changed.ok ? toParking(desk) : refusal(changed.problem);
});
