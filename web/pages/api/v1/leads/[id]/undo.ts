import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Undo } from "../../../../../wire/schemas.ts";

export const POST = endpoint(Undo, ({ desk, me, params, body }) =>
  answer(desk.undo(params.id ?? "", me.id, body.actId)),
);
