import { serve } from "../../../../../api/endpoint.ts";
import { noSuchExperiment } from "../../../../../api/lab.ts";
import { toExperiment } from "../../../../../wire/shape-lab.ts";

export const POST = serve("POST /lab/[id]/cancel", ({ desk, params }) => {
  desk.lab.cancel(params.id ?? "");
  const kept = desk.lab.get(params.id ?? "");
  return kept ? toExperiment(desk.setup, kept) : noSuchExperiment();
});
