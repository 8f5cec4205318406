import { handedOverBody } from "../../../../../../server/hooks/body.ts";
import { dealOf } from "../../../../../api/book.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { leadsOf } from "../../../../../wire/shape-customers.ts";

export const GET = serve("GET /deals/[id]/file", ({ desk, params }) => {
  const found = dealOf(desk, params.id);
  if (!found.ok) return refusal(found.problem);
  const lead = leadsOf(desk, found.record.leadIds)[0] ?? null;
  const body = handedOverBody(desk.setup, desk.looker.book.record, { lead, deal: found.record });
  return new Response(JSON.stringify(body, null, 2), {
    headers: {
      "content-type": "application/json",
      "content-disposition": `attachment; filename="${found.record.id}.json"`,
    },
  });
});
