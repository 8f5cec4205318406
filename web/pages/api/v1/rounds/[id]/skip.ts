import { skipInRounds } from "../../../../../../core/desk/cadence.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /rounds/[id]/skip", ({ desk, me, params, body }) => {
  const id = params.id ?? "";
  const by = body.personId ?? me.id;
  const result = desk.act(id, (world) => skipInRounds(world, by, body.reason));
  if (result.ok) desk.rounds.leave(id, by);
  return answer(result);
});
