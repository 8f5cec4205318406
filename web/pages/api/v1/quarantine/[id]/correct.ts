import { problem, serve } from "../../../../../api/endpoint.ts";

/** Take one in by what somebody read it as. What can't be understood even so stays, and says why. */
export const POST = serve("POST /quarantine/[id]/correct", async ({ desk, me, params, body }) => {
  const corrected = Object.fromEntries(
    Object.entries(body.fields).flatMap(([fact, said]) => (said?.trim() ? [[fact, said.trim()]] : [])),
  );
  const taken = await desk.quarantine.replay(params.id ?? "", { corrected });
  if (taken && !taken.quarantined) desk.office.audit(me.id, "took in an inquiry from quarantine, corrected");
  return (
    taken ??
    problem("not-in-quarantine", 404, "Not in quarantine", "No inquiry with that id waits in quarantine.")
  );
});
