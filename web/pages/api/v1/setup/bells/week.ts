import { WEEK_STEP, weekOfRings } from "../../../../../../core/response/draw.ts";
import { serve } from "../../../../../api/endpoint.ts";
import { iso } from "../../../../../wire/shape.ts";

/** When a bell would ring, for every moment of the week. Changes nothing. */
export const POST = serve("POST /setup/bells/week", ({ desk, body }) => {
  const { from, rings } = weekOfRings(desk.setup, body.target, body.zone ?? null, desk.clock.now());
  return { from: iso(from), step: WEEK_STEP, rings };
});
