import { readersOf } from "../../../../../../core/policy/letter.ts";
import { problem, serve } from "../../../../../api/endpoint.ts";
import { orNotNow } from "../../../../../api/figures.ts";

export const POST = serve("POST /figures/letter/send", ({ desk, me, rights, body: { parts, to } }) => {
  if (to === "all" && !rights.has("setup.change"))
    return problem(
      "not-yours-to-do",
      403,
      "Not yours to do",
      "You can have it sent to yourself. Whoever may change Set-up sends it to all.",
    );
  if (to === "me" && me.email === "")
    return problem(
      "no-address",
      422,
      "No address",
      "You have no mail address here. An administrator enters one under Set-up, People.",
    );
  return orNotNow(async () => ({
    sent: await desk.letters.send(
      parts,
      to === "me" ? [me] : readersOf(desk.setup.policies.letter, desk.setup.people),
    ),
  }));
});
