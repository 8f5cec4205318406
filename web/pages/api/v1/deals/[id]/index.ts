import { changeDeal } from "../../../../../../core/desk/deals.ts";
import { dealOf } from "../../../../../api/book.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toDeal } from "../../../../../wire/shape-deals.ts";

export const GET = serve("GET /deals/[id]", ({ desk, params }) => {
  const found = dealOf(desk, params.id);
  return found.ok ? toDeal(desk, found.record) : refusal(found.problem);
});

export const POST = serve("POST /deals/[id]", ({ desk, me, params, body }) => {
  const id = params.id ?? "";
  const { nextStep, ...rest } = body;
  const step = nextStep && { note: nextStep.note, dueAt: Date.parse(nextStep.dueAt) };
  const leadId = desk.customers.leadOfDeal(id);
  const done = desk.actBook(leadId, (world) =>
    changeDeal(world, me.id, id, { ...rest, ...(nextStep !== undefined && { nextStep: step ?? null }) }),
  );
  if (!done.ok) return refusal(done.problem);
  const found = dealOf(desk, id);
  return found.ok ? { ...toDeal(desk, found.record), actId: done.plan.actId } : refusal(found.problem);
});
