import { serve } from "../../../../api/endpoint.ts";
import { iso } from "../../../../wire/shape.ts";

/** So many are shown. */
const SHOWN = 20;

export const GET = serve("GET /rehearsal/hooks", ({ rehearsal }) => ({
  url: rehearsal.hookUrl,
  items: rehearsal.outside
    .list({ channel: "hook" })
    .slice(-SHOWN)
    .reverse()
    .map(({ id, at, body }) => ({ id, at: iso(at), body })),
}));
