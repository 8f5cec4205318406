import { BOOKING } from "../../../../../../core/message/outgoing.ts";
import { renderTemplate } from "../../../../../../core/message/template.ts";
import { problem, serve } from "../../../../../api/endpoint.ts";

/** A template as it would be sent to this lead by whoever asks. */
export const GET = serve("GET /leads/[id]/merge", ({ desk, me, params, query }) => {
  const lead = desk.looker.lead(params.id ?? "");
  const template = desk.setup.policies.templates.find((t) => t.id === query.get("template"));
  if (!lead || !template) return problem("not-found", 404, "Not found", "There is no such lead or template.");
  const { subject, body } = renderTemplate(template, desk.setup, lead, me);
  // What is shown is what they get.
  return { subject, body: body.replaceAll(BOOKING, () => desk.links.booking(lead.id)) };
});
