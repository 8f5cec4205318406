import { learn } from "../../../../../../core/desk/learn.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Learn } from "../../../../../wire/setup-schemas.ts";

/** Fill in or mend what is known. */
export const POST = endpoint(Learn, ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => learn(world, body, me.id))),
);
