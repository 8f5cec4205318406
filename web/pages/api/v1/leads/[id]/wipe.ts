import { wipeTest } from "../../../../../../server/wipe.ts";
import { problem, serve } from "../../../../../api/endpoint.ts";

/** Remove a test lead with everything about it. */
export const POST = serve("POST /leads/[id]/wipe", ({ desk, me, params }) => {
  const refused = wipeTest(desk, params.id ?? "", me.id);
  return refused ? problem("not-wiped", 409, "Not wiped", refused.problem) : { wiped: true };
});
