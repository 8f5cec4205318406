import { problem, serve } from "../../../../api/endpoint.ts";

export const POST = serve("POST /rehearsal/ad-form", async ({ rehearsal, body }) => {
  const sent = await rehearsal.adForm(body.source, body.answers, body.hold);
  if (sent instanceof Response)
    return new Response(await sent.text(), { status: sent.status, headers: sent.headers });
  return problem("not-sent", 422, "Not sent", sent.problem, [{ path: "source", message: sent.problem }]);
});
