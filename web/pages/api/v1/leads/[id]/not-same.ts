import { notSame } from "../../../../../../core/desk/same.ts";
import { answer, endpoint } from "../../../../../api/endpoint.ts";
import { NotSame } from "../../../../../wire/setup-schemas.ts";

/** A proposed match is somebody else. */
export const POST = endpoint(NotSame, ({ desk, me, params, body }) =>
  answer(
    desk.act(params.id ?? "", (world) =>
      notSame(world, body.leadId, desk.looker.lead(body.leadId)?.name ?? null, me.id),
    ),
  ),
);
