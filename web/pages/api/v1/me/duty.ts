import { endpoint, refusal } from "../../../../api/endpoint.ts";
import { Duty } from "../../../../wire/routing-schemas.ts";

/** Go on or off duty oneself, also from the phone. */
export const POST = endpoint(Duty, ({ desk, me, body }) => {
  const changed = desk.office.setDuty(me.id, body.off, me.id, body.until ? Date.parse(body.until) : null);
  return changed.ok ? { off: body.off } : refusal(changed.problem);
});
