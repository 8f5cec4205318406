import { refusal, serve } from "../../../../../api/endpoint.ts";
import { noSuchJob, toJob } from "../../../../../api/jobs.ts";

export const GET = serve("GET /jobs/[id]", ({ desk, me, params }) => {
  const job = desk.many.job(params.id ?? "", me.id);
  return job ? toJob(job) : refusal(noSuchJob());
});
