import { startCadence } from "../../../../../../../core/desk/cadence.ts";
import { answer, serve } from "../../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/cadences", ({ desk, me, params, body }) =>
  answer(
    desk.act(params.id ?? "", (world) =>
      startCadence(world, me.id, {
        ...body,
        startAt: body.startAt === undefined ? undefined : Date.parse(body.startAt),
      }),
    ),
  ),
);
