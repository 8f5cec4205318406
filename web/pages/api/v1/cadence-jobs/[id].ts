import { problem, serve } from "../../../../api/endpoint.ts";

export const GET = serve("GET /cadence-jobs/[id]", ({ desk, params }) => {
  const job = desk.cadences.job(params.id ?? "");
  if (!job)
    return problem("no-such-job", 404, "No such job", "It is long done, or there never was one by that id.");
  const { id, state, done, total, said } = job;
  return { id, state, done, total, said };
});
