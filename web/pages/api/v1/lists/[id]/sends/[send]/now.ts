import { refusal, serve } from "../../../../../../../api/endpoint.ts";
import { sendOf } from "../../../../../../../api/lists.ts";

export const POST = serve("POST /lists/[id]/sends/[send]/now", async ({ desk, me, rights, params }) => {
  const found = sendOf(desk, { me, rights }, params);
  return "code" in found ? refusal(found) : { said: await desk.listSends.send(found) };
});
