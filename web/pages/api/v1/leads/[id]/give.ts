import { give } from "../../../../../../core/desk/hand-off.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Give } from "../../../../../wire/schemas.ts";

export const POST = endpoint(Give, ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => give(world, me.id, body.to, body.reason, body.steps))),
);
