import { problem, serve } from "../../../../api/endpoint.ts";

export const POST = serve("POST /rehearsal/email", async ({ rehearsal, body }) => {
  const sent = await rehearsal.email(body);
  return "problem" in sent
    ? problem("not-delivered", 422, "Not delivered", sent.problem, [{ path: "to", message: sent.problem }])
    : sent;
});
