import { problem, serve } from "../../../../../api/endpoint.ts";
import { toFigures } from "../../../../../wire/shape-cadences.ts";

export const GET = serve("GET /cadences/[id]/figures", ({ desk, params }) => {
  const cadence = desk.setup.policies.cadences.find((c) => c.id === params.id);
  return cadence
    ? toFigures(desk, cadence)
    : problem("no-such-cadence", 404, "No such cadence", "There is no cadence with that id.");
});
