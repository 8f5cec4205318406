import type { z } from "zod";
import { excuse } from "../../../../../core/desk/bells.ts";
import { give, routeByHand } from "../../../../../core/desk/hand-off.ts";
import { park } from "../../../../../core/desk/park.ts";
import type { Decided, World } from "../../../../../core/desk/plan.ts";
import { close } from "../../../../../core/desk/work.ts";
import { serve } from "../../../../api/endpoint.ts";
import type { ActMany } from "../../../../wire/bells-schemas.ts";

type Body = z.infer<typeof ActMany>;

const ACTS: Readonly<Record<Exclude<Body["do"], "undo">, (world: World, by: string, body: Body) => Decided>> =
  {
    give: (world, by, { to = "", reason, steps }) => give(world, by, to, reason, steps),
    cover: (world, by) => give(world, by, by, "covers it"),
    excuse: (world, by, { reason }) => excuse(world, by, reason),
    close: (world, by, { reason }) => close(world, by, reason),
    park: (world, by, { reason, planId, until }) =>
      park(world, by, reason, planId, until === null ? null : Date.parse(until)),
    wake: (world, by) => routeByHand(world, by),
  };

/** Do the same to many leads: each for itself, so that one that can't be holds up none of the others. */
export const POST = serve("POST /leads/many", ({ desk, me, body }) => {
  const results = [...new Set(body.ids)].map((id) => {
    const act = body.do;
    const result =
      act === "undo"
        ? desk.undo(id, me.id, body.acts[id] ?? "")
        : desk.act(id, (world) => ACTS[act](world, me.id, body));
    return { id, result };
  });
  return {
    done: results.flatMap(({ id, result }) => (result.ok ? [{ id, actId: result.plan.actId }] : [])),
    left: results.flatMap(({ id, result }) =>
      result.ok ? [] : [{ id, name: desk.looker.lead(id)?.name ?? id, why: result.problem.detail }],
    ),
  };
});
