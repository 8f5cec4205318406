import { serve } from "../../../../../api/endpoint.ts";
import { noSuchExperiment } from "../../../../../api/lab.ts";
import { toLabLine } from "../../../../../wire/shape-lab.ts";

export const POST = serve("POST /lab/[id]/remove", ({ desk, params }) => {
  const id = params.id ?? "";
  if (!desk.lab.get(id)) return noSuchExperiment();
  desk.lab.remove(id);
  return { items: desk.lab.all().map((kept) => toLabLine(desk.setup, kept)), next: null };
});
