import { refusal, serve } from "../../../../../api/endpoint.ts";
import { toEstimate, toLeadEstimates } from "../../../../../wire/shape-deals.ts";

export const GET = serve("GET /leads/[id]/estimates", ({ desk, params }) =>
  toLeadEstimates(desk, params.id ?? ""),
);

export const POST = serve("POST /leads/[id]/estimates", async ({ desk, me, params, body }) => {
  const made = await desk.estimates.make(params.id ?? "", me.id, body);
  return made.ok ? { ...toEstimate(made.estimate), actId: made.actId } : refusal(made.problem);
});
