import { problem, refusal, serve } from "../../../../../api/endpoint.ts";
import { toSheet } from "../../../../../wire/shape.ts";

/** The lead is on their screen, with all that is to be seen of it. */
export const POST = serve("POST /rounds/[id]/begin", ({ desk, me, params, body }) => {
  const id = params.id ?? "";
  const begun = desk.rounds.begin(id, body.personId ?? me.id);
  if ("problem" in begun) return refusal(begun.problem);
  return toSheet(desk, id) ?? problem("no-such-lead", 404, "No such lead", "There is no lead with that id.");
});
