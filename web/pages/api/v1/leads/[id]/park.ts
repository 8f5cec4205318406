import { park } from "../../../../../../core/desk/park.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Park } from "../../../../../wire/bells-schemas.ts";

export const POST = endpoint(Park, ({ desk, me, params, body }) =>
  answer(
    desk.act(params.id ?? "", (world) =>
      park(world, me.id, body.reason, body.planId, body.until ? Date.parse(body.until) : null),
    ),
  ),
);
