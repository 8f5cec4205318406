import { setShared } from "../../../../../../core/desk/same.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Shared } from "../../../../../wire/setup-schemas.ts";

/** A number or an address belongs to several people, or to this lead alone. */
export const POST = endpoint(Shared, ({ desk, me, params, body }) =>
  answer(desk.act(params.id ?? "", (world) => setShared(world, body.value, body.shared, me.id))),
);
