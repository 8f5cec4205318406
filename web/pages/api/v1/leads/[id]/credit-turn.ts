import { creditTurnByHand } from "../../../../../../core/desk/hand-off.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { CreditTurn } from "../../../../../wire/routing-schemas.ts";

/** The lead was none: whoever it cost a turn has that turn again. */
export const POST = endpoint(CreditTurn, ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => creditTurnByHand(world, me.id, body.reason))),
);
