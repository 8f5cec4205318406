import { leadFor } from "../../../../../api/belongs.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";

/** Begin a cadence with many; each lead as somebody may who asks. */
export const POST = serve("POST /cadences/[id]/starts", ({ desk, me, rights, params, body }) => {
  const { dryRun, ids, ...rest } = body;
  const wish = {
    ...rest,
    cadenceId: params.id ?? "",
    ...(ids && { ids: ids.filter((id) => leadFor(desk, { me, rights }, id) !== null) }),
  };
  const who = desk.cadences.whoStarts(wish);
  if ("problem" in who) return refusal(who.problem);
  const told = { will: who.will.length, wont: [...who.wont] };
  if (dryRun) return { jobId: null, ...told };
  const job = desk.cadences.startMany(wish, me.id);
  return "problem" in job ? refusal(job.problem) : { jobId: job.id, ...told };
});
