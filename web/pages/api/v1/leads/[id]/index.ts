import { problem, serve } from "../../../../../api/endpoint.ts";
import { toLead } from "../../../../../wire/shape.ts";

export const GET = serve("GET /leads/[id]", ({ desk, params }) => {
  const { lead } = desk.look(params.id ?? "");
  return lead ? toLead(lead) : problem("no-such-lead", 404, "No such lead", "There is no lead with that id.");
});
