import { credit } from "../../../../../../core/desk/hand-off.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Credit } from "../../../../../wire/routing-schemas.ts";

/** Settle who the lead belongs to by agreement, whoever works it. */
export const POST = endpoint(Credit, ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => credit(world, me.id, body.to, body.reason))),
);
