import { creditTurnByHand } from "../../../../../../core/desk/hand-off.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

/** The lead was none: whoever it cost a turn has that turn again. */
export const POST = serve("POST /leads/[id]/credit-turn", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => creditTurnByHand(world, me.id, body.reason))),
);
