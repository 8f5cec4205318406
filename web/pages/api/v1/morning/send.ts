import { serve } from "../../../../api/endpoint.ts";

/** Send the summary to every manager now. */
export const POST = serve("POST /morning/send", ({ desk }) => ({
  sent: desk.morning.send(desk.newId("now")),
}));
