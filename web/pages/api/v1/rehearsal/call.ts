import { problem, serve } from "../../../../api/endpoint.ts";

/** Somebody calls one of our lines; when it is answered, whoever asks has picked it up. */
export const POST = serve("POST /rehearsal/call", async ({ rehearsal, body, me }) => {
  const called = await rehearsal.call(body, me.id);
  return "problem" in called
    ? problem("not-put-through", 422, "Not put through", called.problem, [
        { path: "to", message: called.problem },
      ])
    : called;
});
