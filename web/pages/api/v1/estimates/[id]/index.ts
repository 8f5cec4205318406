import { estimateFor } from "../../../../../api/document.ts";
import { serve } from "../../../../../api/endpoint.ts";
import { toEstimate } from "../../../../../wire/shape-deals.ts";

export const GET = serve("GET /estimates/[id]", ({ desk, params }) =>
  toEstimate(estimateFor(desk, params.id ?? "")!.estimate),
);
