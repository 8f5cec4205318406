import type { APIRoute } from "astro";
import { z } from "zod";
import { CallReport, reportCall } from "../../../../../server/calls/carrier.ts";
import { OutReport } from "../../../../../server/calls/dialer.ts";
import { signedByCarrier } from "../../../../api/carrier.ts";
import { json, problem } from "../../../../api/endpoint.ts";

const Report = z.union([OutReport, CallReport]);

/** What the carrier reports of calls on our lines; signed by Standard Webhooks. */
export const POST: APIRoute = async ({ request, locals }) => {
  const { desk, dialer } = locals;
  const sent = await signedByCarrier(request, locals, Report);
  if (!sent.ok) return sent.response;
  const report = sent.data;
  if ("direction" in report) {
    if (await dialer.report(report)) return json({ leadId: null }, 202);
    return problem("no-such-call", 404, "No such call", `The desk has made no call ${report.call_id}.`);
  }
  const reported = await reportCall(desk, report);
  if (!reported.ok) return problem("no-such-line", reported.status, "No such line", reported.said);
  return json(reported.receipt ?? { leadId: null }, 202);
};
