import type { APIRoute } from "astro";
import { TextReceipt } from "../../../../../server/messages/receipts.ts";
import { signedByCarrier } from "../../../../api/carrier.ts";
import { json, problem } from "../../../../api/endpoint.ts";

/** What the gateway says of a text it has taken: delivered, or failed and why; signed by Standard Webhooks. */
export const POST: APIRoute = async ({ request, locals }) => {
  const sent = await signedByCarrier(request, locals, TextReceipt);
  if (!sent.ok) return sent.response;
  if (locals.desk.receipts.ofText(sent.data)) return json({}, 202);
  return problem(
    "no-such-message",
    404,
    "No such message",
    `No text of ours has the key ${sent.data.message_key}.`,
  );
};
