import { refusal, serve } from "../../../../../../api/endpoint.ts";
import { toPeopleSetup } from "../../../../../../wire/shape-routing.ts";

/** Switch somebody on or off duty; what waits on them goes to whoever covers. */
export const POST = serve("POST /setup/people/[id]/duty", ({ desk, me, params, body }) => {
  const changed = desk.office.setDuty(
    params.id ?? "",
    body.off,
    me.id,
    body.until ? Date.parse(body.until) : null,
  );
  return changed.ok ? toPeopleSetup(desk) : refusal(changed.problem);
});
