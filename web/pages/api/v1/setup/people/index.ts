import { isAbove } from "../../../../../../core/access/access.ts";
import { toEmail } from "../../../../../../core/contact/email.ts";
import { inGroups, savePerson } from "../../../../../../core/setup/change-people.ts";
import { NOBODY_LEFT } from "../../../../../../server/access/accounts.ts";
import { problem, refusal, serve } from "../../../../../api/endpoint.ts";
import { fromFullPerson, toPeopleSetup } from "../../../../../wire/shape-routing.ts";

export const GET = serve("GET /setup/people", ({ desk }) => toPeopleSetup(desk));

export const POST = serve("POST /setup/people", async ({ desk, me, rights, body, context }) => {
  const known = desk.setup.people.find((p) => p.id === body.id);
  if (body.id && !known)
    return problem("nobody-by-that-id", 404, "Nobody by that id", "There is nobody with that id.");
  if ((known?.role ?? "salesperson") !== body.role && !rights.has("access"))
    return problem("not-yours-to-do", 403, "Not yours to do", "Only an administrator gives roles.", [
      { path: "role", message: "Only an administrator gives roles." },
    ]);
  const { accounts, caller } = context.locals;
  if (known && toEmail(body.email) !== known.email) {
    // By the address one signs in: whoever changes it could be them.
    const theirOwn = known.id === me.id && caller?.key === null;
    const hasAccount = accounts.withAccount().has(known.id);
    if (!isAbove(me.role, known.role) || (hasAccount && !theirOwn && !rights.has("access")))
      return problem(
        "not-yours-to-do",
        403,
        "Not yours to do",
        "Only they themselves or an administrator change the address somebody signs in with.",
        [{ path: "email", message: "Only they themselves or an administrator change it." }],
      );
  }
  const person = fromFullPerson(body, known, body.id || desk.newId("p"));
  if (accounts.leavesNobody(person))
    return problem("the-last-who-can-sign-in", 409, "The last who can sign in", NOBODY_LEFT, [
      { path: "role", message: NOBODY_LEFT },
    ]);
  const { groups } = body;
  const changed = desk.office.change(me.id, (setup) => {
    const saved = savePerson(setup, person);
    return saved.ok && groups ? inGroups(saved.setup, person.id, groups) : saved;
  });
  if (!changed.ok) return refusal(changed.problem);
  desk.roster.run();
  await accounts.follow(changed.setup.people.find((p) => p.id === person.id) ?? person);
  return toPeopleSetup(desk);
});
