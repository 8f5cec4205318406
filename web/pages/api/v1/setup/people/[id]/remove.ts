import { removePerson } from "../../../../../../../core/policy/change-people.ts";
import { personOf } from "../../../../../../../core/policy/policy.ts";
import { endpoint, refusal } from "../../../../../../api/endpoint.ts";
import { toPeopleSetup } from "../../../../../../wire/shape-routing.ts";

/** Somebody leaves: nothing is offered to them any more. */
export const POST = endpoint(null, async ({ desk, me, params, context }) => {
  const changed = desk.office.change(me.id, (setup) => removePerson(setup, params.id ?? ""));
  if (!changed.ok) return refusal(changed.problem);
  const gone = personOf(changed.setup, params.id);
  if (gone) await context.locals.accounts.follow(gone);
  return toPeopleSetup(desk);
});
