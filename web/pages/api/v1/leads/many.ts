import { byReason } from "../../../../../server/many/many.ts";
import { problem, refusal, serve } from "../../../../api/endpoint.ts";
import { askedList } from "../../../../api/lists.ts";
import { actOf, doneOf } from "../../../../api/many.ts";

/** So many leads are done before it is answered; more go on in the background. */
const AT_ONCE = 200;
/** So many at once are the most. */
const MOST = 50_000;

/** Do the same with many leads: each for itself, so that one that can't be holds up none of the others. */
export const POST = serve("POST /leads/many", async ({ desk, me, rights, body }) => {
  const { list, where, acts } = body;
  if (body.do === "undo") {
    const results = Object.entries(acts).map(([id, actId]) => ({ id, result: desk.undo(id, me.id, actId) }));
    return {
      jobId: null,
      will: results.length,
      wont: [],
      done: results.flatMap(({ id, result }) => (result.ok ? [{ id, actId: result.plan.actId }] : [])),
      left: results.flatMap(({ id, result }) =>
        result.ok ? [] : [{ id, name: desk.looker.lead(id)?.name ?? id, why: result.problem.detail }],
      ),
    };
  }
  let ids = body.ids && [...new Set(body.ids)];
  if (!ids) {
    const asked = askedList(
      desk,
      { me, rights },
      new URLSearchParams({
        ...(list && { list }),
        ...(where !== undefined && { where: JSON.stringify(where) }),
      }),
    );
    if ("code" in asked) return refusal(asked);
    ids = [];
    for await (const lead of desk.lists.listing.all(asked.listed)) {
      ids.push(lead.id);
      if (ids.length > MOST)
        return problem(
          "too-many-leads",
          409,
          "Too many leads",
          `${MOST.toLocaleString("en")} at once are the most. Narrow the filter.`,
          [{ path: "where", message: "too many" }],
        );
    }
  }
  const act = actOf(desk, body, me.id);
  if (body.dryRun) return { jobId: null, ...(await desk.many.outlook(ids, act)), done: [], left: [] };
  const later = ids.length > AT_ONCE || desk.many.isBusy();
  const job = desk.many.begin(ids, me.id, doneOf(body, desk.setup), act);
  if (later) return { jobId: job.id, will: ids.length, wont: [], done: [], left: [] };
  await desk.many.settled();
  return {
    jobId: job.id,
    will: job.acted.length,
    wont: [...byReason(job.left.map((l) => l.why))],
    done: [...job.acted],
    left: [...job.left],
  };
});
