import { learn } from "../../../../../../core/desk/learn.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

/** Fill in or mend what is known. */
export const POST = serve("POST /leads/[id]/facts", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => learn(world, body, me.id))),
);
