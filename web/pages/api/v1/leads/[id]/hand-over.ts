import { handOver } from "../../../../../../core/desk/hand-over.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toHandOver } from "../../../../../wire/shape-customers.ts";

export const GET = serve("GET /leads/[id]/hand-over", ({ desk, params }) =>
  toHandOver(desk, desk.looker.lead(params.id ?? "")!),
);

export const POST = serve("POST /leads/[id]/hand-over", ({ desk, me, params, body }) => {
  const leadId = params.id ?? "";
  const result = desk.act(leadId, (world) => handOver(world, me.id, body));
  if (!result.ok) return refusal(result.problem);
  const { companyId = null, contactId = null, dealId = null } = result.plan.after.handedOver ?? {};
  return { companyId, contactId, dealId, actId: result.plan.actId, leadId };
});
