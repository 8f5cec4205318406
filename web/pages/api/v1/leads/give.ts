import { give } from "../../../../../core/desk/hand-off.ts";
import { endpoint } from "../../../../api/endpoint.ts";
import { GiveMany } from "../../../../wire/routing-schemas.ts";

/** Move many leads at once: each for itself, so that one that can't be moved holds up none of the others. */
export const POST = endpoint(GiveMany, ({ desk, me, body }) => {
  const { ids, to, reason, steps } = body;
  const results = [...new Set(ids)].map((id) => ({
    id,
    result: desk.act(id, (world) => give(world, me.id, to, reason, steps)),
  }));
  return {
    moved: results.flatMap(({ id, result }) => (result.ok ? [id] : [])),
    stayed: results.flatMap(({ id, result }) => (result.ok ? [] : [{ id, why: result.problem.detail }])),
  };
});
