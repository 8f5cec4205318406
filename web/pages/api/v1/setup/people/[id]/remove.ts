import { personOf } from "../../../../../../../core/policy/setup.ts";
import { removePerson } from "../../../../../../../core/setup/change-people.ts";
import { NOBODY_LEFT } from "../../../../../../../server/access/accounts.ts";
import { problem, refusal, serve } from "../../../../../../api/endpoint.ts";
import { toPeopleSetup } from "../../../../../../wire/shape-routing.ts";

/** Somebody leaves: nothing is offered to them any more. */
export const POST = serve("POST /setup/people/[id]/remove", async ({ desk, me, params, context }) => {
  const { accounts } = context.locals;
  const leaving = personOf(desk.setup, params.id);
  if (leaving && accounts.leavesNobody({ ...leaving, left: true }))
    return problem("the-last-who-can-sign-in", 409, "The last who can sign in", NOBODY_LEFT);
  const changed = desk.office.change(me.id, (setup) => removePerson(setup, params.id ?? ""));
  if (!changed.ok) return refusal(changed.problem);
  const gone = personOf(changed.setup, params.id);
  if (gone) await accounts.follow(gone);
  return toPeopleSetup(desk);
});
