import { leadFor } from "../../../../../api/belongs.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";

/** Begin a cadence with many; each lead as somebody may who asks. */
export const POST = serve("POST /cadences/[id]/starts", async ({ desk, me, rights, params, body }) => {
  const { dryRun, ids, ...rest } = body;
  const wish = {
    ...rest,
    cadenceId: params.id ?? "",
    ...(ids && { ids: ids.filter((id) => leadFor(desk, { me, rights }, id) !== null) }),
  };
  const who = await desk.cadences.whoStarts(wish);
  if ("problem" in who) return refusal(who.problem);
  const told = { will: who.will.length, wont: [...who.wont] };
  if (dryRun) return { jobId: null, ...told };
  const job = desk.cadences.startMany(wish, who.will, me.id);
  return { jobId: job.id, ...told };
});
