import { reachedAt } from "../../../../../../core/policy/told.ts";
import { serve } from "../../../../../api/endpoint.ts";

const WORDS = "This is a test of Kite Bell: what you read has come by this way out.";

/** The caller gets something by that way now, and is told what the other side said. */
export const POST = serve("POST /setup/ways/test", async ({ desk, me, body }) => {
  const { way } = body;
  const toAddress = reachedAt(me, way);
  if (!toAddress) return { ok: false, said: "You have no address there: enter it under People first." };
  const { company } = desk.setup.policies;
  const fromAddress = { email: company.email, text: company.textLine, chat: "Kite Bell" }[way];
  const key = desk.newId("trial");
  try {
    await desk.channels[way].deliver({
      id: key,
      key,
      channel: way,
      toAddress,
      fromAddress,
      subject: way === "email" ? "A test of Kite Bell" : null,
      body: WORDS,
      purpose: "trial",
      url: null,
      messageId: null,
      headers: {},
      html: null,
      unsubscribeUrl: null,
      files: [],
    });
    return { ok: true, said: `Accepted. Look for it at ${toAddress}.` };
  } catch (error) {
    return { ok: false, said: error instanceof Error ? error.message : String(error) };
  }
});
