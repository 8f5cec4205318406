import { take } from "../../../../../../core/desk/hand-off.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/take", ({ desk, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => take(world, body.personId))),
);
