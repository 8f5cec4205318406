import { personOf } from "../../../../../../../core/policy/setup.ts";
import { problem, serve } from "../../../../../../api/endpoint.ts";

/** Sign somebody out everywhere. */
export const POST = serve("POST /access/people/[id]/sign-out", ({ desk, me, params, context }) => {
  const person = personOf(desk.setup, params.id);
  if (!person) return problem("nobody-by-that-id", 404, "Nobody by that id", "There is nobody with that id.");
  const ended = context.locals.accounts.endSessions(person.id, { butToken: null });
  desk.office.audit(me.id, `sessions of ${person.name}`, { after: `${ended} ended` });
  return { ended };
});
