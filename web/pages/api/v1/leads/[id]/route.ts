import { routeByHand } from "../../../../../../core/desk/hand-off.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";

/** Ask the rules again who gets it. */
export const POST = endpoint(null, ({ desk, me, params }) =>
  answer(desk.act(params.id ?? "", (world) => routeByHand(world, me.id))),
);
