import { askedForTime } from "../../../../../../core/desk/bells.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { AskedFor } from "../../../../../wire/bells-schemas.ts";

/** They asked to be called at a time: the bell waits until then. */
export const POST = endpoint(AskedFor, ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => askedForTime(world, me.id, Date.parse(body.at)))),
);
