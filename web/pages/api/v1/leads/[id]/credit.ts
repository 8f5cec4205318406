import { credit } from "../../../../../../core/desk/hand-off.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

/** Settle who the lead belongs to by agreement, whoever works it. */
export const POST = serve("POST /leads/[id]/credit", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => credit(world, me.id, body.to, body.reason))),
);
