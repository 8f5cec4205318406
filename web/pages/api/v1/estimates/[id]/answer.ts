import { answerEstimate } from "../../../../../../core/desk/estimates.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /estimates/[id]/answer", ({ desk, me, params, body }) => {
  const id = params.id ?? "";
  return answer(desk.act(desk.estimates.leadOf(id) ?? "", (world) => answerEstimate(world, me.id, id, body)));
});
