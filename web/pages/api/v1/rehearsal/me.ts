import { problem, serve } from "../../../../api/endpoint.ts";

/** Be somebody else of the demo company from now on, in this browser. */
export const POST = serve("POST /rehearsal/me", ({ desk, body, context }) => {
  if (!desk.setup.people.some((p) => p.id === body.personId))
    return problem("nobody-by-that-id", 422, "Nobody by that id", "`personId` names nobody who works here.");
  context.cookies.set("kb_me", body.personId, { path: "/", httpOnly: true, sameSite: "lax" });
  return { personId: body.personId };
});
