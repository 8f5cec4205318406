import { problem, rehearsing } from "../../../../api/endpoint.ts";
import { Take } from "../../../../wire/schemas.ts";

/** Be somebody else of the demo company from now on, in this browser. */
export const POST = rehearsing(Take, (_rehearsal, { desk, body, context }) => {
  if (!desk.setup.people.some((p) => p.id === body.personId))
    return problem(422, "Nobody by that id", "`personId` names nobody who works here.");
  context.cookies.set("kb_me", body.personId, { path: "/", httpOnly: true, sameSite: "lax" });
  return { personId: body.personId };
});
