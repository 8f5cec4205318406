import { problem, serve } from "../../../../../api/endpoint.ts";
import { toSimulated } from "../../../../../wire/shape-bells.ts";

/** Run targets and ladders over a lead as if nobody did anything. Changes nothing. */
export const POST = serve("POST /setup/bells/simulate", ({ desk, body }) => {
  const lead = desk.looker.lead(body.leadId);
  return lead
    ? toSimulated(desk, lead, body)
    : problem("no-such-lead", 404, "No such lead", "There is no lead with that id.");
});
