import { unschedule } from "../../../../../../core/desk/send.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Unschedule } from "../../../../../wire/answering-schemas.ts";

export const POST = endpoint(Unschedule, ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => unschedule(world, me.id, body.id))),
);
