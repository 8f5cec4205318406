import { ladderTimes } from "../../../../../../core/response/draw.ts";
import { endpoint } from "../../../../../api/endpoint.ts";
import { DrawLadder } from "../../../../../wire/bells-schemas.ts";
import { iso } from "../../../../../wire/shape.ts";

/** The true times of a ladder's rungs, for a bell that begins now. Changes nothing. */
export const POST = endpoint(DrawLadder, ({ desk, body }) => {
  const { setup, clock } = desk;
  const { target, ladder, zone } = body;
  const from = clock.now();
  const rungs = ladderTimes(setup, target, ladder, zone ?? null, from);
  return { from: iso(from), rungs: rungs.map(({ at, ...rung }) => ({ ...rung, at: iso(at) })) };
});
