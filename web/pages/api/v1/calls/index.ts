import { leadFor } from "../../../../api/belongs.ts";
import { json, problem, refusal, serve } from "../../../../api/endpoint.ts";
import { toCall } from "../../../../wire/shape-answering.ts";

export const GET = serve("GET /calls", ({ desk, me, context }) => {
  const call = context.locals.dialer.openOf(me.id);
  return json(call && toCall(desk, call));
});

export const POST = serve("POST /calls", async ({ desk, me, rights, body, context }) => {
  if (!leadFor(desk, { me, rights }, body.leadId))
    return problem(
      "no-such-lead",
      404,
      "No such lead",
      "There is no lead with that id that is yours or offered to you.",
    );
  const placed = await context.locals.dialer.place(body.leadId, me.id);
  return placed.ok ? json(toCall(desk, placed.call), 201) : refusal(placed.problem);
});
