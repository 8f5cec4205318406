import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { Join } from "../../../../../wire/setup-schemas.ts";

/** Join another lead to this one: they are one person. */
export const POST = endpoint(Join, ({ desk, me, params, body }) =>
  answer(desk.join(params.id ?? "", body.with, me.id)),
);
