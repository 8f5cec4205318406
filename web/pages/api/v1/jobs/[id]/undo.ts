import { refuse } from "../../../../../../core/refusal.ts";
import { refusal, serve } from "../../../../../api/endpoint.ts";
import { noSuchJob, toJob } from "../../../../../api/jobs.ts";

export const POST = serve("POST /jobs/[id]/undo", ({ desk, me, params }) => {
  const job = desk.many.job(params.id ?? "", me.id);
  if (!job) return refusal(noSuchJob());
  const back = desk.many.undo(job);
  return back
    ? toJob(back)
    : refusal(
        refuse("cant-be-undone", 409, "Can't be undone", "It is still going on, or was itself an undo.")
          .problem,
      );
});
