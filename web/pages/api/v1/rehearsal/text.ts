import { problem, serve } from "../../../../api/endpoint.ts";

export const POST = serve("POST /rehearsal/text", async ({ rehearsal, body }) => {
  const heard = await rehearsal.text(body.from, body.to, body.body);
  return "problem" in heard
    ? problem("not-sent", 422, "Not sent", heard.problem, [{ path: "from", message: heard.problem }])
    : heard;
});
