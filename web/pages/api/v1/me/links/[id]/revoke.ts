import { problem, serve } from "../../../../../../api/endpoint.ts";

export const POST = serve("POST /me/links/[id]/revoke", ({ desk, me, params }) =>
  desk.openLinks.revoke(me.id, params.id ?? "")
    ? { revoked: true }
    : problem("no-such-link", 404, "No such link", "You have no link by that id."),
);
