import { ladderTimes } from "../../../../../../core/response/draw.ts";
import { serve } from "../../../../../api/endpoint.ts";
import { iso } from "../../../../../wire/shape.ts";

/** The true times of a ladder's rungs, for a bell that begins now. Changes nothing. */
export const POST = serve("POST /setup/bells/draw", ({ desk, body }) => {
  const { setup, clock } = desk;
  const { target, ladder, zone } = body;
  const from = clock.now();
  const rungs = ladderTimes(setup, target, ladder, zone ?? null, from);
  return { from: iso(from), rungs: rungs.map(({ at, ...rung }) => ({ ...rung, at: iso(at) })) };
});
