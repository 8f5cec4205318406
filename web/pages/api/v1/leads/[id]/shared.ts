import { setShared } from "../../../../../../core/desk/same.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

/** A number or an address belongs to several people, or to this lead alone. */
export const POST = serve("POST /leads/[id]/shared", ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => setShared(world, body.value, body.shared, me.id))),
);
