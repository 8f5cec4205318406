import { personOf } from "../../../../../../../core/policy/setup.ts";
import { problem, serve } from "../../../../../../api/endpoint.ts";

/** Send somebody a link by which they choose a password, or make one to be handed over where no mail leaves. */
export const POST = serve("POST /access/people/[id]/invite", ({ desk, me, params, context }) => {
  const { accounts } = context.locals;
  const person = personOf(desk.setup, params.id);
  if (!person || person.left)
    return problem("nobody-by-that-id", 404, "Nobody by that id", "There is nobody with that id.");
  if (accounts.withAccount().has(person.id))
    return problem(
      "they-have-an-account",
      409,
      "They have an account",
      `${person.name} can sign in already, or ask for a new password.`,
    );
  const mailed = desk.whyUnset("email") === null;
  // A mail that waits for somebody to set mail up would invite when the link is long too old.
  if (mailed) accounts.invite(person, me);
  return { url: accounts.invitation(person.id), mailed };
});
