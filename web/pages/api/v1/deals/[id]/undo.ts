import { dealOf } from "../../../../../api/book.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toDeal } from "../../../../../wire/shape-deals.ts";

export const POST = serve("POST /deals/[id]/undo", ({ desk, me, params, body }) => {
  const problem = desk.customers.undoDeal(params.id ?? "", me.id, body.actId);
  if (problem) return refusal(problem);
  const found = dealOf(desk, params.id);
  return found.ok ? toDeal(desk, found.record) : refusal(found.problem);
});
