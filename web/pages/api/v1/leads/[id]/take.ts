import { take } from "../../../../../../core/desk/hand-off.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Take } from "../../../../../wire/schemas.ts";

export const POST = endpoint(Take, ({ desk, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => take(world, body.personId))),
);
