import { savePerson } from "../../../../../../core/policy/change-people.ts";
import { endpoint, problem, refusal } from "../../../../../api/endpoint.ts";
import { SavePerson } from "../../../../../wire/routing-schemas.ts";
import { fromFullPerson, toPeopleSetup } from "../../../../../wire/shape-routing.ts";

export const GET = endpoint(null, ({ desk }) => toPeopleSetup(desk));

export const POST = endpoint(SavePerson, async ({ desk, me, rights, body, context }) => {
  const known = desk.setup.people.find((p) => p.id === body.id);
  if (body.id && !known) return problem(404, "Nobody by that id", "There is nobody with that id.");
  if ((known?.role ?? "salesperson") !== body.role && !rights.has("access"))
    return problem(403, "Not yours to do", "Only an administrator gives roles.", [
      { path: "role", message: "Only an administrator gives roles." },
    ]);
  const person = fromFullPerson(body, known, body.id || desk.newId("p"));
  const changed = desk.office.change(me.id, (setup) => savePerson(setup, person));
  if (!changed.ok) return refusal(changed.problem);
  desk.roster.run();
  await context.locals.accounts.follow(person);
  return toPeopleSetup(desk);
});
