import { markStop } from "../../../../../../core/desk/work.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { MarkStop } from "../../../../../wire/answering-schemas.ts";

export const POST = endpoint(MarkStop, ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => markStop(world, me.id, body.channel, body.stop, body.said))),
);
