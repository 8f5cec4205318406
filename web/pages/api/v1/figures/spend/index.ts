import { refusal, serve } from "../../../../../api/endpoint.ts";
import { keptSpend, saveSpend } from "../../../../../api/spend.ts";

export const GET = serve("GET /figures/spend", ({ desk }) => keptSpend(desk));

export const POST = serve("POST /figures/spend", ({ desk, me, body }) => {
  const problem = saveSpend(desk, me.id, body.rows);
  return problem ? refusal(problem) : keptSpend(desk);
});
