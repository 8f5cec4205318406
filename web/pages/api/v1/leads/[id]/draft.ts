import { engage, letBe } from "../../../../../../core/desk/engage.ts";
import { json, problem, serve } from "../../../../../api/endpoint.ts";

export const GET = serve("GET /leads/[id]/draft", ({ desk, me, params }) =>
  json(desk.drafts.of(me.id, params.id ?? "")),
);

export const POST = serve("POST /leads/[id]/draft", ({ desk, me, params, body }) => {
  const id = params.id ?? "";
  if (!desk.looker.lead(id))
    return problem("no-such-lead", 404, "No such lead", "There is no lead with that id.");
  desk.drafts.keep(me.id, id, body);
  // Whoever writes to somebody has them: nothing rings meanwhile, and others see it.
  const writes = body.body.trim() !== "";
  desk.act(id, (world) => (writes ? engage(world, me.id, "writing") : letBe(world, me.id)));
  return { kept: true };
});
