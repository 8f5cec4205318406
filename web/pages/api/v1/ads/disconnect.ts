import { serve } from "../../../../api/endpoint.ts";

/** Forget what the ad platform let us do. Sources stay, and what is still delivered to them is taken. */
export const POST = serve("POST /ads/disconnect", ({ desk, me, context }) => {
  context.locals.ads.disconnect();
  desk.office.audit(me.id, "disconnected the ad platform");
  return {};
});
