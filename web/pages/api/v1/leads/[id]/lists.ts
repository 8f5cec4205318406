import { noSuchLead } from "../../../../../../core/desk/refusals.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";

export const GET = serve("GET /leads/[id]/lists", ({ desk, me, rights, params }) => {
  const lead = desk.looker.lead(params.id ?? "");
  if (!lead) return refusal(noSuchLead().problem);
  return {
    items: desk.lists.holding({ me, rights }, lead).map(({ id, name }) => ({ id, name })),
    next: null,
  };
});
