import { nameOf } from "../../../../../../core/policy/setup.ts";
import { endpoint } from "../../../../../api/endpoint.ts";
import { Here } from "../../../../../wire/schemas.ts";

/** Somebody has the lead open, or has closed it. Gives who else has it open. */
export const POST = endpoint(Here, ({ desk, me, params, body }) => {
  const id = params.id ?? "";
  if (!body.here) {
    desk.presence.gone(id, me.id);
    return { others: [] };
  }
  const others = desk.presence.here(id, me.id);
  return { others: others.map((other) => ({ id: other, name: nameOf(desk.setup, other) })) };
});
