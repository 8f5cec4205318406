import { pin } from "../../../../../../core/desk/work.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Pin } from "../../../../../wire/answering-schemas.ts";

export const POST = endpoint(Pin, ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => pin(world, me.id, body.text))),
);
