import { askedForTime } from "../../../../../../core/desk/bells.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

/** They asked to be called at a time: the bell waits until then. */
export const POST = serve("POST /leads/[id]/asked-for", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => askedForTime(world, me.id, Date.parse(body.at)))),
);
