import type { APIRoute } from "astro";
import { CallReport, reportCall } from "../../../../../server/calls/carrier.ts";
import { OutReport } from "../../../../../server/calls/dialer.ts";
import { isSigned } from "../../../../../server/intake/signature.ts";
import { invalid, json, problem } from "../../../../api/endpoint.ts";

/** What the carrier reports of calls on our lines; signed by Standard Webhooks. */
export const POST: APIRoute = async ({ request, locals }) => {
  const { desk } = locals;
  const raw = Buffer.from(await request.arrayBuffer());
  const headers = Object.fromEntries(request.headers);
  // The carrier lives in real time, also in rehearsal.
  if (!isSigned(desk.carrierSecret, raw, headers, [desk.clock.now(), Date.now()])) {
    desk.kept.count("unsigned:carrier");
    return problem(
      "not-signed",
      401,
      "Not signed",
      "The signature is missing, wrong or older than five minutes. Nothing was kept.",
    );
  }
  let sent: unknown;
  try {
    sent = JSON.parse(raw.toString("utf8"));
  } catch {
    return problem("not-json", 400, "Not JSON", "Send a JSON body.");
  }
  const out = OutReport.safeParse(sent);
  if (out.success) {
    if (await locals.dialer.report(out.data)) return json({ leadId: null }, 202);
    return problem("no-such-call", 404, "No such call", `The desk has made no call ${out.data.call_id}.`);
  }
  const report = CallReport.safeParse(sent);
  if (!report.success) return invalid(report.error);
  const reported = await reportCall(desk, report.data);
  if (!reported.ok) return problem("no-such-line", reported.status, "No such line", reported.said);
  return json(reported.receipt ?? { leadId: null }, 202);
};
