import { problem, serve } from "../../../../api/endpoint.ts";

const NONE = () => problem("not-here", 404, "Not here", "This rehearsal has no live traffic.");

export const GET = serve("GET /rehearsal/traffic", ({ rehearsal }) => rehearsal.traffic?.state ?? NONE());

export const POST = serve("POST /rehearsal/traffic", ({ rehearsal, body }) => {
  rehearsal.traffic?.set(body.perMinute);
  return rehearsal.traffic?.state ?? NONE();
});
