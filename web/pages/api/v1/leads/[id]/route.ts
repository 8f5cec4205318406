import { routeByHand } from "../../../../../../core/desk/hand-off.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

/** Ask the rules again who gets it. */
export const POST = serve("POST /leads/[id]/route", ({ desk, me, params }) =>
  answer(desk.act(params.id ?? "", (world) => routeByHand(world, me.id))),
);
