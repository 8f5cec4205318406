import { excuse } from "../../../../../../core/desk/bells.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Excuse } from "../../../../../wire/bells-schemas.ts";

export const POST = endpoint(Excuse, ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => excuse(world, me.id, body.reason))),
);
