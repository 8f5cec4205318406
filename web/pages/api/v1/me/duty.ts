import { refusal, serve } from "../../../../api/endpoint.ts";

/** Go on or off duty oneself, also from the phone. */
export const POST = serve("POST /me/duty", ({ desk, me, body }) => {
  const changed = desk.office.setDuty(me.id, body.off, me.id, body.until ? Date.parse(body.until) : null);
  return changed.ok ? { off: body.off } : refusal(changed.problem);
});
