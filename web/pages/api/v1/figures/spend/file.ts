import { refusal, serve } from "../../../../../api/endpoint.ts";
import { readSpend, saveSpend } from "../../../../../api/spend.ts";

export const POST = serve("POST /figures/spend/file", ({ desk, me, body }) => {
  const { rows, problems } = readSpend(desk, body.text);
  // A table with a mistake is kept as a whole or not at all: half of it would be entered twice.
  if (problems.length > 0) return { kept: 0, problems };
  const problem = saveSpend(desk, me.id, rows);
  return problem ? refusal(problem) : { kept: rows.length, problems };
});
