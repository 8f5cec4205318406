import { serve } from "../../../../api/endpoint.ts";

export const GET = serve("GET /rehearsal/down", ({ rehearsal }) => ({ down: [...rehearsal.outside.down] }));

export const POST = serve("POST /rehearsal/down", ({ rehearsal, body }) => ({
  down: rehearsal.setDown(body.channel, body.down),
}));
