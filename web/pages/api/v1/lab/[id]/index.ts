import { serve } from "../../../../../api/endpoint.ts";
import { noSuchExperiment } from "../../../../../api/lab.ts";
import { toExperiment } from "../../../../../wire/shape-lab.ts";

export const GET = serve("GET /lab/[id]", ({ desk, params }) => {
  const kept = desk.lab.get(params.id ?? "");
  return kept ? toExperiment(desk.setup, kept) : noSuchExperiment();
});
