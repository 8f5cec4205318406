import { close } from "../../../../../../core/desk/work.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Close } from "../../../../../wire/schemas.ts";

export const POST = endpoint(Close, ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => close(world, me.id, body.reason))),
);
