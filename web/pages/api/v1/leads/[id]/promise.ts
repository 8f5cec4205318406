import { promise } from "../../../../../../core/desk/bells.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/promise", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => promise(world, me.id, body.text, Date.parse(body.at)))),
);
