import { problem, rehearsing } from "../../../../api/endpoint.ts";
import { EmailIn } from "../../../../wire/setup-schemas.ts";

export const POST = rehearsing(EmailIn, async (rehearsal, { body }) => {
  const sent = await rehearsal.email(body);
  return "problem" in sent
    ? problem(422, "Not delivered", sent.problem, [{ path: "to", message: sent.problem }])
    : sent;
});
