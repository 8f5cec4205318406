import { promise } from "../../../../../../core/desk/bells.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { PromiseTo } from "../../../../../wire/bells-schemas.ts";

export const POST = endpoint(PromiseTo, ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => promise(world, me.id, body.text, Date.parse(body.at)))),
);
