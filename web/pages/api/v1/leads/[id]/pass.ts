import { pass } from "../../../../../../core/desk/hand-off.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Pass } from "../../../../../wire/schemas.ts";

export const POST = endpoint(Pass, ({ desk, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => pass(world, body.personId, body.reason))),
);
