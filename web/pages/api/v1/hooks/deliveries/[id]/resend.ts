import { problem, serve } from "../../../../../../api/endpoint.ts";

export const POST = serve("POST /hooks/deliveries/[id]/resend", ({ desk, params }) => {
  const id = params.id ?? "";
  if (!desk.hooks.delivery(id))
    return problem("no-such-delivery", 404, "No such delivery", "There is no delivery with that id.");
  return { queued: desk.hooks.resend(id) };
});
