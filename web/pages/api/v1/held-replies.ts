import { problem, serve } from "../../../api/endpoint.ts";

/** Let the first replies of a source go that were held, all in one step, or drop them. */
export const POST = serve("POST /held-replies", async ({ desk, me, body }) => {
  if (!desk.setup.sources.some((s) => s.id === body.sourceId))
    return problem("no-such-source", 404, "No such source", "There is no source with that id.");
  return { leads: await desk.heldReplies.release(body.sourceId, body.send, me.id) };
});
