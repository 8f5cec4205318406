import { problem, serve } from "../../../../../api/endpoint.ts";

export const POST = serve("POST /keys/[id]/revoke", ({ desk, me, params }) =>
  desk.keys.revoke(params.id ?? "", me.id)
    ? { revoked: true }
    : problem("no-such-key", 404, "No such key", "There is no key with that id, or it was revoked already."),
);
