import { sendEstimate } from "../../../../../../core/desk/estimates.ts";
import { answer, serve } from "../../../../../api/endpoint.ts";

/** Where the estimate is seen and answered. */
const PLACE = "{estimate}";

export const POST = serve("POST /estimates/[id]/send", ({ desk, me, params, body }) => {
  const id = params.id ?? "";
  const leadId = desk.estimates.leadOf(id) ?? "";
  const link = desk.links.estimate(id);
  const words = body.body.trim() || "Here is our estimate.";
  const said = words.includes(PLACE)
    ? words.replaceAll(PLACE, link)
    : `${words}\n\nSee it and answer here: ${link}`;
  return answer(
    desk.act(leadId, (world) => sendEstimate(world, me.id, id, { subject: body.subject, body: said })),
  );
});
