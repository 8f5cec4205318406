import { serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /deals/[id]/send-on", ({ desk, params }) => ({
  queued: desk.customers.sendOn(params.id ?? ""),
}));
