import { called } from "../../../../../../core/lead/called.ts";
import type { FigureKey } from "../../../../../../core/report/cadence-figures.ts";
import { problem, serve } from "../../../../../api/endpoint.ts";

/** So many leads are named at once. */
const MOST = 500;

export const GET = serve("GET /cadences/[id]/behind", ({ desk, params, query }) => {
  const id = params.id ?? "";
  if (!desk.setup.policies.cadences.some((c) => c.id === id))
    return problem("no-such-cadence", 404, "No such cadence", "There is no cadence with that id.");
  const n = Number(query.get("n"));
  const key = query.get("key");
  const leads =
    key === "now"
      ? desk.cadences.leadsIn(id, n - 1, MOST)
      : desk.cadences.behind(id, Number(query.get("version")), n, key as FigureKey);
  return { items: leads.slice(0, MOST).map((lead) => ({ id: lead.id, name: called(lead) })), next: null };
});
