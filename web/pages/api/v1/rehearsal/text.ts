import { problem, rehearsing } from "../../../../api/endpoint.ts";
import { TextIn } from "../../../../wire/schemas.ts";

export const POST = rehearsing(TextIn, async (rehearsal, { body }) => {
  const heard = await rehearsal.text(body.from, body.to, body.body);
  return "problem" in heard
    ? problem(422, "Not sent", heard.problem, [{ path: "from", message: heard.problem }])
    : heard;
});
