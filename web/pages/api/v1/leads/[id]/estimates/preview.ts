import { pdfOf } from "../../../../../../api/document.ts";
import { refusal, serve } from "../../../../../../api/endpoint.ts";

export const POST = serve("POST /leads/[id]/estimates/preview", async ({ desk, me, params, body }) => {
  const pdf = await desk.estimates.preview(params.id ?? "", me.id, body);
  return Buffer.isBuffer(pdf) ? pdfOf(pdf, "estimate.pdf") : refusal(pdf);
});
